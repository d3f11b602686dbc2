<script lang="ts">
  import { page } from '$app/state';
  import { Desk } from '$lib/features/rules';
</script>

<Desk
  typeKey={page.params.type!}
  ruleKey={page.params.rule}
  fieldKey={page.url.searchParams.get('field') ?? undefined}
  sampleNumber={Number(page.url.searchParams.get('sample') ?? 1)}
/>
