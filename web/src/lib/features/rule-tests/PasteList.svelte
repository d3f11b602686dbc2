<script lang="ts">
  /** The business's own list, pasted from a spreadsheet, as one family: what comes in and what should come out. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { counted } from '$lib/counted.ts';
  import { testsAddress } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import type { RuleTest } from '@rigid-rule/core/document';
  import { readCsv } from '@rigid-rule/core/formats';
  import { typedValue } from '../fields';
  import { useDraft } from '../draft/context.ts';
  import { nowIn } from '$lib/now.ts';
  import { familyOf, readList, type PastedList } from './pasted.ts';

  interface Props {
    compiled: CompiledRule;
    program: TypeProgram;
    close: () => void;
  }
  const { compiled, program, close }: Props = $props();
  const { draft } = useDraft();
  let text = $state('');
  /** Keys chosen by hand, by column. */
  let chosen = $state<Record<number, string>>({});
  const expected = $derived(new Set(compiled.writes.map((s) => program.slots[s]!.field.key)));

  const list = $derived.by((): PastedList | undefined => {
    if (text.trim() === '') return undefined;
    const { lines } = readCsv(text, text.includes('\t') ? '\t' : undefined);
    const read = readList(lines, program.recordType);
    return { ...read, columns: read.columns.map((c, i) => ({ ...c, field: (chosen[i] ?? c.field) || undefined })) };
  });
  const firstRows = $derived(list?.rows.slice(0, 5) ?? []);
  const family = $derived(list && familyOf(list, program.recordType, expected, typedValue));
  const ready = $derived(
    family !== undefined &&
      family.problems.length === 0 &&
      family.cases.rows.length > 0 &&
      family.cases.sent.length > 0,
  );
  function keep() {
    if (!family) return;
    const { rule } = compiled;
    const isNew = rule.moments.includes('creating');
    const key = draft.freeKey('test', `${rule.name} list`);
    const test: RuleTest = {
      key,
      name: `${rule.name}: ${counted(family.cases.rows.length, 'case')} of the business’s list`,
      recordType: rule.recordType,
      before: isNew ? null : { data: {} },
      sent: {},
      moment: isNew ? 'creating' : 'updating',
      entryPoint: rule.entryPoints[0] ?? 'api',
      now: nowIn(draft.rulebook.zone),
      expect: {},
      family: { cases: family.cases },
    };
    draft.create({ kind: 'test', key }, test, 'make tests of a list');
    void goto(testsAddress(rule.recordType, rule.key, key));
    close();
  }
</script>

<div class="my-3 border border-edge bg-paper p-3">
  <label class="grid gap-1">
    <span class="label">Paste rows from a spreadsheet, with their headings</span>
    <textarea
      class="box font-mono text-[12px]"
      rows="5"
      bind:value={text}
      placeholder="Employee count, Size class; then a row for each case"></textarea>
  </label>
  {#if list}
    <table class="mt-2">
      <thead>
        <tr>
          {#each list.columns as c, i (i)}
            <th scope="col" class="pr-4 text-left font-normal">
              <span class="block text-soft">{c.heading}</span>
              <select
                class="editable"
                aria-label="Field of {c.heading}"
                value={c.field ?? ''}
                onchange={(e) => (chosen = { ...chosen, [i]: e.currentTarget.value })}
              >
                <option value="">left out</option>
                {#each program.recordType.fields as f (f.key)}<option value={f.key}
                    >{f.name}{expected.has(f.key) ? ', comes out' : ''}</option
                  >{/each}
              </select>
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each firstRows as row, r (r)}
          <tr
            >{#each list.columns as _, c (c)}<td
                class={['pr-4', family?.problems.some((p) => p.row === r && p.column === c) && 'text-stop']}
                >{row[c] ?? ''}</td
              >{/each}</tr
          >
        {/each}
      </tbody>
    </table>
    <p class="mt-1 text-small text-soft">
      {counted(list.rows.length, 'row')}{list.rows.length > firstRows.length
        ? `, the first ${ownWriting(firstRows.length)} shown`
        : ''}.
    </p>
    <FirstOf items={family?.problems ?? []} most={4} what="problems">
      {#snippet item(p)}<p class="text-stop">Row {p.row + 1}: {p.problem}.</p>{/snippet}
    </FirstOf>
  {/if}
  <p class="mt-2 flex gap-3">
    <button type="button" class="button" disabled={!ready} onclick={keep}
      >{family && family.cases.rows.length > 0
        ? `Make ${counted(family.cases.rows.length, 'case')} of it`
        : 'Make cases of it'}</button
    >
    <button type="button" class="button plain" onclick={close}>Close</button>
  </p>
</div>
