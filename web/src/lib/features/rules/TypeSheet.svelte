<script lang="ts">
  /** A record type on which neither field nor rule is chosen: its rules in the order in which they run. */
  import { findRuleKind, ruleSentence, type TypeProgram } from '@rigid-rule/core';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import KindMark from '$lib/ui/KindMark.svelte';

  import { wordsFor } from '$lib/features/fields';

  interface Props {
    program: TypeProgram;
    draft: Draft;
    /** A rule was asked for that is not there. */
    missing: boolean;
  }
  const { program, draft, missing }: Props = $props();
  const plural = $derived(program.recordType.plural);
</script>

<div class="mx-auto max-w-[640px] px-6 pt-[18px] pb-10">
  <h1 class="mb-2">{plural}</h1>
  {#if missing}<p class="mb-3 text-stop">
      This rule is not in the draft any more. Undo brings back one that was removed just now.
    </p>{/if}
  <p class="mb-4 text-soft">
    {#if program.rules.length > 0}In the order in which they run. Choose a field at the left to see its rules or to make
      one.{:else}No rule looks at {plural.toLowerCase()} yet. Choose the field at the left that a rule should fill in or check{draft.editable
        ? ', and make one there'
        : ''}.{/if}
  </p>
  <ol>
    {#each program.rules as r (r.rule.key)}
      <li class="grid grid-cols-[18px_minmax(0,1fr)] gap-2 border-b border-line py-1.5">
        <span class="pt-0.5 text-held"
          ><KindMark kind={r.rule.kind} label={findRuleKind(r.rule.kind)?.name ?? r.rule.kind} /></span
        >
        <span>
          <a class="font-[650] hover:text-brass" href="/desk/{program.recordType.key}/{r.rule.key}">{r.rule.name}</a>
          {#if !r.rule.on}<span class="quiet">off</span>{/if}
          {#if r.circle >= 0}<span class="text-stop">in a circle</span>{/if}
          <span class="block truncate text-small text-soft"
            >{ruleSentence(r.rule, program.recordType, wordsFor(program.recordType, draft.rulebook))}</span
          >
        </span>
      </li>
    {/each}
  </ol>
</div>
