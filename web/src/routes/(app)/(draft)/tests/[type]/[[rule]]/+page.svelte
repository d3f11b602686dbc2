<script lang="ts">
  import { page } from '$app/state';
  import { TestsArea } from '$lib/features/rule-tests';
</script>

<TestsArea
  typeKey={page.params.type!}
  ruleKey={page.params.rule}
  testKey={page.url.searchParams.get('test') ?? undefined}
/>
