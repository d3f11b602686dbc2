<script lang="ts">
  /** Which options a field offers, by the option of another: a grid of both. */
  import type { CompiledRule, LimitOptions, TypeProgram } from '@rigid-rule/core/compile';
  import { fieldTypeOf, createFormula } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import FieldSelect from '../parts/FieldSelect.svelte';
  import MessagePreview from './MessagePreview.svelte';
  import { fieldName, saidAt, Visit } from '../parts/sheet-edits.ts';

  interface Props {
    limit: LimitOptions;
    program: TypeProgram;
    compiled: CompiledRule;
    readonly: boolean;
    path: string;
    change: (limit: LimitOptions, label: string, group?: string) => void;
    remove: () => void;
  }
  const { limit, program, compiled, readonly, path, change, remove }: Props = $props();
  const visit = new Visit();

  const target = $derived(program.recordType.fields.find((f) => f.key === limit.field));
  const source = $derived(program.recordType.fields.find((f) => f.name === limit.source));
  const sourceType = $derived(createFormula(limit.source, program.scope).type);
  /** Every option of the source is listed, those without a row too: without one all options are on offer. */
  const sources = $derived(
    sourceType.kind === 'option' ? sourceType.options.names : limit.grid.map((row) => row.value),
  );
  const rowOf = (value: string) => limit.grid.find((row) => row.value === value);
  const options = $derived(target?.options?.map((o) => o.name) ?? []);

  function toggle(value: string, option: string, on: boolean) {
    const now = rowOf(value)?.allowed ?? options;
    const allowed = options.filter((o) => (o === option ? on : now.includes(o)));
    const grid = sources.flatMap((s) => {
      const row = s === value ? { value, allowed } : rowOf(s);
      return row ? [row] : [];
    });
    change({ ...limit, grid }, 'change which options are on offer');
  }
  const choices = [
    { key: 'stop', name: 'stops the save' },
    { key: 'clear', name: 'is cleared' },
    { key: 'only', name: 'gives way to the only one left' },
  ] as const;
</script>

<div class="mb-3" role="group" aria-label="Options of {fieldName(program, limit.field)}">
  <div class="flex flex-wrap items-baseline gap-x-2">
    <span class="font-[650]">{fieldName(program, limit.field)}</span> offers, by
    <FieldSelect
      fields={program.recordType.fields}
      value={source?.key ?? ''}
      label="What limits {fieldName(program, limit.field)}"
      none="a field"
      suits={(f) => fieldTypeOf(f).chooses === 'one' && f.key !== limit.field}
      {readonly}
      choose={(key) =>
        change(
          { ...limit, source: program.recordType.fields.find((f) => f.key === key)?.name ?? '', grid: [] },
          'choose what limits',
        )}
    />
    {#if !readonly}<button type="button" class="act ml-auto" aria-label="Remove this limit" onclick={remove}
        ><Icon of={X} size={13} /></button
      >{/if}
  </div>
  {#each saidAt(compiled, `${path}/source`) as d, i (i)}<p class="text-small text-stop">{d.message}</p>{/each}
  {#if sources.length > 0}
    <div class="max-h-[320px] overflow-auto">
      <table class="border-collapse">
        <thead>
          <tr
            ><th class="grid-head text-left">{limit.source}</th>{#each options as o, nth (nth)}<th class="grid-head"
                >{o}</th
              >{/each}</tr
          >
        </thead>
        <tbody>
          {#each sources as value, nth (nth)}
            {@const row = rowOf(value)}
            <tr class={row ? '' : 'text-faint'}>
              <th scope="row" class="border-t border-line pr-4 text-left font-normal">{value}</th>
              {#each options as option, nth (nth)}
                <td class="border-t border-line text-center">
                  <input
                    type="checkbox"
                    class="check"
                    aria-label="{value}: {option}"
                    disabled={readonly}
                    checked={row ? row.allowed.includes(option) : true}
                    onchange={(e) => toggle(value, option, e.currentTarget.checked)}
                  />
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#each limit.grid as row, i (i)}{#each [...saidAt(compiled, `${path}/grid/${i}/allowed`), ...saidAt(compiled, `${path}/grid/${i}/value`)] as d, n (n)}<p
          class="text-small text-stop"
        >
          {row.value}: {d.message}
        </p>{/each}{/each}
  {/if}
  <p class="mt-1 text-soft">
    A value that is no longer on offer
    {#if readonly}{choices.find((c) => c.key === limit.otherwise)?.name}{:else}
      <select
        class="editable"
        aria-label="When the value is no longer on offer"
        value={limit.otherwise}
        onchange={(e) =>
          change(
            { ...limit, otherwise: e.currentTarget.value as LimitOptions['otherwise'] },
            'change what becomes of it',
          )}
      >
        {#each choices as c (c.key)}<option value={c.key}>{c.name}</option>{/each}
      </select>
    {/if}
  </p>
  {#if limit.otherwise === 'stop'}
    <MessagePreview
      message={limit.message}
      field={target}
      severity="stop"
      label="Message when {fieldName(program, limit.field)} is not on offer"
      {readonly}
      diagnostics={[]}
      begin={visit.begin}
      change={(message) => change({ ...limit, message }, 'reword a message', visit.group)}
    />
  {/if}
</div>

<style>
  .grid-head {
    padding: 3px 7px;
    font-weight: 400;
    font-size: 12.5px;
    color: var(--faint);
    position: sticky;
    top: 0;
    background: var(--sheet);
  }
  td {
    padding: 3px 7px;
  }
  td .check {
    vertical-align: middle;
  }
</style>
