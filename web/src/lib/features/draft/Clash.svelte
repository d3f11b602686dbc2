<script lang="ts">
  /** Two people changed one part: both versions side by side, to be chosen from. */
  import { counted } from '$lib/counted.ts';
  import { ruleSentence } from '@rigid-rule/core/compile';
  import type { RecordType, Rule } from '@rigid-rule/core/document';
  import type { Draft } from './draft.svelte.ts';

  import { wordsFor } from '$lib/features/fields';

  interface Props {
    draft: Draft;
    id: string;
  }
  const { draft, id }: Props = $props();
  const clash = $derived(draft.saver.clashes.get(id)!);
  const ours = $derived(draft.part(clash.ref)?.body);
  const typeOf = (rule: Rule): RecordType | undefined =>
    draft.rulebook.recordTypes.find((t) => t.key === rule.recordType);

  /** A part in a few lines; a rule reads aloud, of others the name and how much there is. */
  function reading(body: unknown): readonly string[] {
    if (!body) return ['taken away'];
    const { name = '', purpose = '' } = body as { name?: string; purpose?: string };
    if (clash.ref.kind === 'rule') {
      const rule = body as Rule;
      const type = typeOf(rule);
      return [name, purpose, type ? ruleSentence(rule, type, wordsFor(type, draft.rulebook)) : ''].filter(Boolean);
    }
    const { rows, options } = body as { rows?: readonly unknown[]; options?: readonly { name: string }[] };
    return [
      name,
      purpose,
      ...(rows ? [counted(rows.length, 'row')] : []),
      ...(options ? [options.map((o) => o.name).join(', ')] : []),
    ].filter(Boolean);
  }
  const sides = $derived([
    { keep: 'ours', title: 'Yours', text: reading(ours), act: 'Keep my version' },
    {
      keep: 'theirs',
      title: `By ${clash.by ?? 'someone else'}`,
      text: reading(clash.theirs?.body),
      act: 'Continue with their version',
    },
  ] as const);
</script>

<section class="mb-4 border border-stop bg-stop-wash px-4 py-3" aria-label="Two versions of this {clash.ref.kind}">
  <p class="mb-2 font-[650]">
    {clash.by ?? 'Someone'} changed this {clash.ref.kind} while you did. Nothing of either is lost yet.
  </p>
  <div class="grid grid-cols-2 gap-5">
    {#each sides as side (side.keep)}
      <div>
        <p class="label">{side.title}</p>
        {#each side.text as line, i (i)}<p class={i === 0 ? 'font-[650]' : ''}>{line}</p>{/each}
        {#if side.keep === 'ours' && !draft.mayKeep(clash.ref)}
          <p class="mt-2 text-soft">You may not change this {clash.ref.kind} any more. Copy what you need of it.</p>
        {:else}
          <button type="button" class="button plain mt-2" onclick={() => draft.resolve(id, side.keep)}
            >{side.act}</button
          >
        {/if}
      </div>
    {/each}
  </div>
</section>
