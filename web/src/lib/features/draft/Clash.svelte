<script lang="ts">
  /** Two people changed one part: both versions side by side, to be chosen from. */
  import { findRuleKind, type RecordType, type Rule } from '@rigid-rule/core';
  import type { Draft } from './draft.svelte.ts';

  interface Props {
    draft: Draft;
    id: string;
    recordType: RecordType;
  }
  const { draft, id, recordType }: Props = $props();
  const clash = $derived(draft.clashes.get(id)!);
  const reading = (body: unknown) => {
    const rule = body as Rule;
    return {
      name: rule.name,
      purpose: rule.purpose,
      condition: rule.condition || 'always',
      outcome: findRuleKind(rule.kind)?.sentence(rule.outcome, recordType) ?? '',
    };
  };
  const sides = $derived([
    { keep: 'ours', title: 'Yours', text: reading(clash.ours), act: 'Keep mine' },
    { keep: 'theirs', title: `By ${clash.by ?? 'someone else'}`, text: reading(clash.theirs.body), act: 'Take theirs' },
  ] as const);
</script>

<section class="mb-4 border border-stop bg-stop-wash px-4 py-3" aria-label="Two versions of this rule">
  <p class="mb-2 font-[650]">{clash.by ?? 'Someone'} changed this rule while you did. Nothing of either is lost yet.</p>
  <div class="grid grid-cols-2 gap-5">
    {#each sides as side (side.keep)}
      <div>
        <p class="label">{side.title}</p>
        <p class="font-[650]">{side.text.name}</p>
        <p>{side.text.purpose}</p>
        <p class="font-mono text-small">Only if {side.text.condition}</p>
        <p class="mb-2">{side.text.outcome}</p>
        <button type="button" class="button plain" onclick={() => draft.resolve(id, side.keep)}>{side.act}</button>
      </div>
    {/each}
  </div>
</section>
