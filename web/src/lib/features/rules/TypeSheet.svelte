<script lang="ts">
  /**
   * A record type on which neither field nor rule is chosen: its rules in the order in which they run. A place that
   * what the rules read leaves free can be chosen, by dragging or by keys; of the others it is said why they are fixed.
   */
  import { ruleAddress } from '$lib/addresses.ts';
  import { fixedOrder, moveRule } from '@rigid-rule/core/assistance';
  import { findRuleKind, ruleSentence, type TypeProgram } from '@rigid-rule/core/compile';
  import Icon from '$lib/ui/Icon.svelte';
  import GripVertical from 'lucide/dist/esm/icons/grip-vertical.mjs';
  import { tick } from 'svelte';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { wordsFor } from '$lib/features/fields';
  import { KindMark } from '$lib/features/rule-kinds';
  import { Growing } from '$lib/ui/growing.svelte.ts';

  interface Props {
    program: TypeProgram;
    draft: Draft;
  }
  const { program, draft }: Props = $props();
  const plural = $derived(program.recordType.plural);
  const words = $derived(wordsFor(program.recordType, draft.rulebook));
  const after = $derived(fixedOrder(program));

  type Row = { id: string };
  const rows = $derived<readonly Row[]>(program.rules.map((r) => ({ id: r.rule.key })));
  let dragging = $state.raw<readonly Row[]>();
  const beginning = new Growing(() => rows);
  const shown = $derived(dragging ?? beginning.items);
  const byKey = $derived(new Map(program.rules.map((r) => [r.rule.key, r])));
  const ruleOf = (key: string) => byKey.get(key);
  const nameOf = (key: string) => ruleOf(key)?.rule.name ?? key;
  /** Why the last move was not made, or what it did. */
  let said = $state('');

  function move(key: string, to: number): void {
    const found = moveRule(program, key, to);
    if ('first' in found) {
      said = `${nameOf(found.first)} runs before ${nameOf(found.second)}, which reads ${found.fields.join(' and ')}.`;
      return;
    }
    const edits = [...found.positions].map(([rule, value]) => ({
      ref: { kind: 'rule', key: rule } as const,
      operations: [{ op: 'replace', path: '/position', value } as const],
    }));
    draft.editAll(edits, `move ${nameOf(key)}`);
    said = `${nameOf(key)} runs as number ${to + 1}.`;
  }

  interface DragEvent {
    readonly detail: { readonly items: readonly Row[]; readonly info: { readonly id: string } };
  }
  function dropped(e: DragEvent): void {
    const { items, info } = e.detail;
    dragging = undefined;
    const to = items.findIndex((r) => r.id === info.id);
    if (to !== rows.findIndex((r) => r.id === info.id)) move(info.id, to);
  }

  function nudge(e: KeyboardEvent, key: string): void {
    const by = e.altKey && !e.ctrlKey ? { ArrowUp: -1, ArrowDown: 1 }[e.key] : undefined;
    const to = rows.findIndex((r) => r.id === key) + (by ?? 0);
    if (by === undefined || !draft.editable || to < 0 || to >= rows.length) return;
    e.preventDefault();
    const link = e.currentTarget as HTMLElement;
    move(key, to);
    void tick().then(() => link.focus());
  }
</script>

<div class="mx-auto max-w-[680px] px-6 pt-[18px] pb-10">
  <h1 class="mb-2">{plural}</h1>
  <p class="mb-2 text-soft">
    {#if program.rules.length > 0}In the order in which they run: a rule comes after those that write what it reads.
      {#if draft.editable}The rest is yours to order, by dragging or with Alt ↑ and Alt ↓.{/if}{:else}No rule looks at {plural.toLowerCase()}
      yet. Choose the field at the left that a rule should fill in or check{draft.editable
        ? ', and make one there'
        : ''}.{/if}
  </p>
  <p class="mb-2 min-h-5 text-small text-brass-ink" role="status">{said}</p>
  <ol
    aria-label="Rules in the order in which they run"
    use:dragHandleZone={{
      items: [...shown],
      flipDurationMs: 120,
      dropTargetStyle: {},
      dragDisabled: !draft.editable,
    }}
    onconsider={(e: DragEvent) => (dragging = e.detail.items)}
    onfinalize={dropped}
  >
    {#each shown as row, i (row.id)}
      {@const r = ruleOf(row.id)}
      {#if r}
        {@const before = after.get(row.id) ?? []}
        <li
          class="grid gap-2 border-b border-line bg-sheet py-1.5"
          style:grid-template-columns="14px max(22px, {String(rows.length).length}ch) 18px minmax(0,1fr)"
        >
          {#if draft.editable}<span use:dragHandle class="cursor-grab pt-1 text-faint" aria-label="Drag {r.rule.name}"
              ><Icon of={GripVertical} size={12} /></span
            >{:else}<span></span>{/if}
          <span class="pt-px text-right text-small text-faint">{i + 1}</span>
          <span class="pt-0.5 text-held"
            ><KindMark kind={r.rule.kind} label={findRuleKind(r.rule.kind)?.name ?? r.rule.kind} /></span
          >
          <span>
            <a
              class="font-[650] hover:text-brass"
              href={ruleAddress(program.recordType.key, r.rule.key)}
              aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
              onkeydown={(e) => nudge(e, row.id)}>{r.rule.name}</a
            >
            {#if !r.rule.on}<span class="quiet">off</span>{/if}
            {#if r.circle >= 0}<span class="text-stop">in a circle</span>{/if}
            <span class="block truncate text-small text-soft">{ruleSentence(r.rule, program.recordType, words)}</span>
            {#if before.length > 0}<span class="block truncate text-small text-faint"
                >after {before.map((b) => `${nameOf(b.rule)} (${b.fields.join(', ')})`).join(', ')}</span
              >{/if}
          </span>
        </li>
      {:else}<li aria-hidden="true" class="h-12"></li>{/if}
    {/each}
  </ol>
</div>
