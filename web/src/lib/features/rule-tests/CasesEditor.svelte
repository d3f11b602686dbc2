<script lang="ts">
  /** The cases of a family as a grid: a row for each, typed in place. */
  import { ownSentences } from '$lib/organisation.svelte.ts';
  import { editedValue, typedValue } from '../fields';
  import type { TypeProgram } from '@rigid-rule/core/compile';
  import type { RuleTest, Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import type { TestEdits } from './test-edits.ts';

  interface Props extends TestEdits {
    test: RuleTest;
    program: TypeProgram;
  }
  const { test, program, set, drop }: Props = $props();
  const cases = $derived(test.family?.cases);
  const fields = $derived(program.recordType.fields);
  const columns = $derived(cases ? [...cases.sent, ...cases.expected] : []);
  let problem = $state<{ row: number; column: number; text: string }>();

  type Cases = NonNullable<NonNullable<RuleTest['family']>['cases']>;
  const change = (next: Cases) => set('/family', { ...test.family, cases: next });

  function type(row: number, column: number, text: string) {
    const field = fields.find((f) => f.key === columns[column]);
    if (!cases || !field) return;
    let value: Stored = null;
    if (text.trim() !== '') {
      const coerced = fieldTypeOf(field).coerce(typedValue(field, text.trim()), field, ownSentences);
      if ('problem' in coerced) {
        problem = { row, column, text: `${text} ${coerced.problem}` };
        return;
      }
      value = coerced.value;
    }
    problem = undefined;
    change({
      ...cases,
      rows: cases.rows.map((r, i) => (i === row ? columns.map((_, c) => (c === column ? value : (r[c] ?? null))) : r)),
    });
  }
  function begin() {
    const [sent] = Object.keys(test.sent);
    const [expected] = Object.keys(test.expect.fields ?? {});
    if (sent === undefined) return;
    const row = [test.sent[sent] as Stored, ...(expected === undefined ? [] : [test.expect.fields![expected]!])];
    change({ sent: [sent], expected: expected === undefined ? [] : [expected], rows: [row] });
  }
  function remove() {
    const { cases: _, ...others } = test.family ?? {};
    if (Object.keys(others).length > 0) set('/family', others);
    else drop('/family');
  }
</script>

{#if cases}
  <div>
    <div class="max-h-[340px] overflow-auto">
      <table>
        <thead>
          <tr>
            {#each columns as key, c (c)}
              <th scope="col" class="pr-4 text-left font-normal text-soft"
                >{fields.find((f) => f.key === key)?.name ?? key}{c >= cases.sent.length ? ' is then' : ''}</th
              >
            {/each}
            <td></td>
          </tr>
        </thead>
        <tbody>
          {#each cases.rows as row, r (r)}
            <tr class="border-b border-line">
              {#each columns as key, c (c)}
                {@const field = fields.find((f) => f.key === key)}
                <td class="pr-4"
                  ><input
                    class={['editable my-px h-6 w-[130px]', problem?.row === r && problem.column === c && 'text-stop']}
                    aria-label="{field?.name ?? key} of case {r + 1}"
                    aria-invalid={problem?.row === r && problem.column === c}
                    placeholder="blank"
                    value={field ? editedValue(field, row[c]) : String(row[c] ?? '')}
                    onchange={(e) => type(r, c, e.currentTarget.value)}
                  /></td
                >
              {/each}
              <td
                ><button
                  type="button"
                  class="grid size-6 cursor-pointer place-items-center text-faint hover:text-stop"
                  aria-label="Take case {r + 1} out"
                  onclick={() => change({ ...cases, rows: cases.rows.filter((_, i) => i !== r) })}
                  ><Icon of={X} size={13} /></button
                ></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if problem}<p class="text-stop" role="alert">{problem.text}.</p>{/if}
    <p class="mt-1 flex gap-4">
      <button
        type="button"
        class="word"
        onclick={() => change({ ...cases, rows: [...cases.rows, columns.map(() => null)] })}>a case more</button
      >
      <button type="button" class="word" onclick={remove}>no cases</button>
    </p>
  </div>
{:else}
  <span
    ><button type="button" class="word" onclick={begin} disabled={Object.keys(test.sent).length === 0}
      >let it stand for several values</button
    ></span
  >
{/if}
