<script lang="ts">
  /** What a release changes, part by part, with a picture where one says more than words. */
  import type { Rule } from '@rigid-rule/core/document';
  import { counted } from '$lib/counted.ts';
  import { ruleAddress } from '$lib/addresses.ts';
  import { kindFace, KindMark } from '$lib/features/rule-kinds';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { askChanges, changesInStep, type Change, type ChangesPart } from './changes.ts';

  interface Props {
    beginning: ChangesPart;
    /** How many there are in all. */
    count: number;
    /** Of the draft that they were told of. */
    fingerprint: string;
    live: number | null;
  }
  const { beginning, count, fingerprint, live }: Props = $props();
  let more = $state.raw<readonly ChangesPart[]>([]);
  let asking = $state(false);
  let problem = $state('');
  const changes = $derived([beginning, ...more].flatMap((part) => part.changes));
  const types = $derived(new Map([beginning, ...more].flatMap((part) => part.recordTypes.map((t) => [t.key, t]))));
  const left = $derived(count - changes.length);
  const step = $derived(Math.min(left, changesInStep));

  async function goOn(): Promise<void> {
    asking = true;
    problem = '';
    try {
      more = [...more, await askChanges(changes.length, fingerprint)];
    } catch (e) {
      problem = e instanceof Error ? e.message : String(e);
    }
    asking = false;
  }

  function pictureOf(c: Change) {
    const picture = kindFace(c.ruleKind ?? '')?.picture;
    if (!picture || !c.before || !c.after) return undefined;
    const [before, after] = [c.before as Rule, c.after as Rule];
    return picture.shows(before, after) ? { load: picture.load, before, after } : undefined;
  }
  /** As wide as the last number, with what parts its thousands. */
  const numbers = $derived(`max(14px, ${String(count).length * 1.25}ch)`);
  const typeOf = (rule: Rule) => types.get(rule.recordType)!;
  const verb = { added: 'New.', removed: 'Removed.', changed: '' } as const;
</script>

<ol>
  {#each changes as c, i (c.part.kind + c.part.key)}
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
{#if problem}<p class="mt-3 text-stop" role="alert">{problem}</p>{/if}
{#if left > 0}<button type="button" class="word my-3" disabled={asking} onclick={goOn}
    >{step === left
      ? `show the other ${left === 1 ? 'change' : counted(left, 'change')}`
      : `show ${ownWriting(step)} more of the other ${ownWriting(left)} changes`}</button
  >{/if}
