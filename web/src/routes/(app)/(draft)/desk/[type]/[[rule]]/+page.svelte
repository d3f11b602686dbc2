<script lang="ts">
  import { page } from '$app/state';
  import { wholeNumber } from '$lib/whole-number.ts';
  import { Desk } from '$lib/features/rules';
</script>

<Desk
  typeKey={page.params.type!}
  ruleKey={page.params.rule}
  fieldKey={page.url.searchParams.get('field') ?? undefined}
  sampleNumber={wholeNumber(page.url.searchParams.get('sample')) ?? 1}
/>
