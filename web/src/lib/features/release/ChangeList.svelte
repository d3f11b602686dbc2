<script lang="ts">
  /** What a release changes, part by part, with a picture where one says more than words. */
  import type { RecordType, Rule } from '@rigid-rule/core/document';
  import type { PartChange } from '@rigid-rule/core/refactor';
  import { ruleAddress } from '$lib/addresses.ts';
  import { kindFace, KindMark } from '$lib/features/rule-kinds';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  /** A change as it is told: of a rule with its record type. */
  type Change = PartChange & { readonly recordType?: string | undefined };
  interface Props {
    changes: readonly Change[];
    /** Those of changed rules. */
    recordTypes: readonly RecordType[];
    live: number | null;
  }
  const { changes, recordTypes, live }: Props = $props();
  /** Changes that are told at once. */
  let most = $state(200);
  function pictureOf(c: Change) {
    const picture = kindFace(c.ruleKind ?? '')?.picture;
    if (!picture || !c.before || !c.after) return undefined;
    const [before, after] = [c.before as Rule, c.after as Rule];
    return picture.shows(before, after) ? { load: picture.load, before, after } : undefined;
  }
  /** As wide as the last number, with what parts its thousands. */
  const numbers = $derived(`max(14px, ${String(changes.length).length * 1.25}ch)`);
  const typeOf = (rule: Rule) => recordTypes.find((t) => t.key === rule.recordType)!;
  const verb = { added: 'New.', removed: 'Removed.', changed: '' } as const;
</script>

<ol>
  {#each changes.slice(0, most) as c, i (c.part.kind + c.part.key)}
    {@const picture = pictureOf(c)}
    <li
      class="grid border-b border-line py-2.5 last:border-0"
      style:grid-template-columns="{numbers} 28px minmax(0,1fr)"
    >
      <span class="quiet text-right">{ownWriting(i + 1)}</span>
      <span class="pl-2 text-held"
        >{#if c.ruleKind}<KindMark kind={c.ruleKind} label={c.ruleKind} />{/if}</span
      >
      <div class="min-w-0">
        <p>
          {#if c.recordType}<a class="font-[650] hover:text-brass" href={ruleAddress(c.recordType, c.part.key)}
              >{c.name}.</a
            >{:else}<b class="font-[650]">{c.name}.</b>{/if}
          {verb[c.what]}
          {#each c.phrases as phrase, j (j)}<span class="block first-letter:uppercase"
              >{phrase}{phrase.endsWith('.') ? '' : '.'}</span
            >{/each}
        </p>
        {#if picture}
          {@const { before, after } = picture}
          {#await picture.load() then { default: Picture }}
            <Picture {before} {after} recordType={typeOf(after)} {live} />
          {/await}
        {/if}
      </div>
    </li>
  {/each}
</ol>
{#if changes.length > most}<button type="button" class="word my-3" onclick={() => (most = Infinity)}
    >show the other {ownWriting(changes.length - most)} changes</button
  >{/if}
