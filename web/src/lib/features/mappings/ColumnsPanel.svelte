<script lang="ts">
  /** The columns of a table: what they are called, whose values they hold, how keys are compared. */
  import { hitPolicies, pointer, type HitPolicy, type Operation, type TableColumn } from '@rigid-rule/core/document';
  import { columnTypeKeys } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import type { Draft } from '../draft/draft.svelte.ts';
  import RenameInput from '../draft/RenameInput.svelte';
  import { columnKey, columnName } from './new-table.ts';
  import type { TableState } from './table.svelte.ts';
  import { distinct } from '$lib/ui/distinct.ts';

  interface Props {
    state: TableState;
    draft: Draft;
    users: readonly { email: string; name: string }[];
  }
  const { state: grid, draft, users }: Props = $props();
  const table = $derived(grid.table);
  const ref = $derived({ kind: 'table', key: table.key } as const);
  const edit = (operations: readonly Operation[], label: string) => draft.edit(ref, operations, label);

  const policies: Readonly<Record<HitPolicy, string>> = {
    unique: 'one row for each key',
    any: 'rows may agree',
    first: 'the first row that matches',
    priority: 'the highest output',
    'rule order': 'all, in row order',
    'output order': 'all, the highest first',
    collect: 'all, as a list or a total',
  };
  const types = columnTypeKeys;
  const matches = [
    { key: 'exact', name: 'exactly' },
    { key: 'folded', name: 'but for case and spaces' },
    { key: 'prefix', name: 'by the longest beginning' },
  ] as const;

  /** A column holds the values of a field, or is of a type of its own. */
  function setHolds(group: 'keys' | 'outputs', i: number, value: string) {
    const { field: _, type: __, ...rest } = table[group][i]!;
    const holds = value.startsWith('=') ? { type: value.slice(1) } : { field: value };
    edit([{ op: 'replace', path: pointer(group, i), value: { ...rest, ...holds } }], 'say what a column holds');
  }
  function add(group: 'keys' | 'outputs') {
    const name = columnName(group === 'keys' ? 'Key' : 'Value', new Set(grid.columns.map((c) => c.name)));
    const key = columnKey(
      name,
      grid.columns.map((c) => c.key),
    );
    edit([{ op: 'add', path: pointer(group, '-'), value: { key, name } }], 'add a column');
  }
  function remove(group: 'keys' | 'outputs', i: number) {
    const { key, name } = table[group][i]!;
    const rows = table.rows.map((row) => {
      const { [key]: _, ...rest } = row;
      return rest;
    });
    edit(
      [
        { op: 'remove', path: pointer(group, i) },
        { op: 'replace', path: '/rows', value: rows },
      ],
      `take the column ${name} out`,
    );
  }
  /** A key becomes an output or the other way round; how keys are compared goes with being one. */
  function move(group: 'keys' | 'outputs', i: number) {
    const { match: _, ...column } = table[group][i]!;
    const other = group === 'keys' ? 'outputs' : 'keys';
    edit(
      [
        { op: 'remove', path: pointer(group, i) },
        { op: 'add', path: pointer(other, '-'), value: column },
      ],
      `make ${column.name} ${other === 'keys' ? 'a key' : 'an output'}`,
    );
  }
  const holds = (c: TableColumn) => c.field ?? `=${c.type ?? 'text'}`;
  const isText = (c: TableColumn) => !c.field && (c.type ?? 'text') === 'text';

  const keepers = $derived(table.keepers ?? []);
  const setKeepers = (emails: readonly string[]) =>
    edit([{ op: 'add', path: '/keepers', value: emails }], 'change who keeps the table');
  const nameOf = (email: string) => users.find((u) => u.email === email)?.name ?? email;
</script>

<section aria-label="Columns">
  <h2 class="mb-1 text-[15px] font-[650]">Columns</h2>
  <label class="mb-2 block text-small text-soft"
    >Hit policy
    <select
      class="editable text-ink"
      disabled={!draft.editable}
      value={table.hitPolicy}
      onchange={(e) =>
        edit([{ op: 'replace', path: '/hitPolicy', value: e.currentTarget.value }], 'choose the hit policy')}
    >
      {#each hitPolicies as p (p)}<option value={p}>{p}: {policies[p]}</option>{/each}
    </select>
    {#if table.hitPolicy === 'collect'}
      <select
        class="editable text-ink"
        aria-label="What is made of all"
        disabled={!draft.editable}
        value={table.aggregation ?? ''}
        onchange={(e) =>
          edit(
            e.currentTarget.value === ''
              ? [{ op: 'remove', path: '/aggregation' }]
              : [{ op: 'add', path: '/aggregation', value: e.currentTarget.value }],
            'choose what is made of all',
          )}
      >
        <option value="">a list</option>
        {#each ['sum', 'min', 'max', 'count'] as a (a)}<option value={a}>{a}</option>{/each}
      </select>
    {/if}
  </label>
  {#each ['keys', 'outputs'] as const as group (group)}
    <h3 class="label mt-2">{group === 'keys' ? 'Keys' : 'Outputs'}</h3>
    {@const columnKeys = distinct(table[group].map((c) => c.key))}
    {#each table[group] as column, i (columnKeys[i])}
      <div class="border-t border-line py-1">
        <div class="flex gap-2">
          <RenameInput
            {draft}
            name={column.name}
            label="Name of the column {column.name}"
            renaming={(name) => ({ what: 'column', table: table.key, key: column.key, name })}
            class="flex-1 font-[650]"
          />
          {#if draft.editable && table[group].length > 1}<button
              type="button"
              class="word text-small"
              aria-label="Make {column.name} {group === 'keys' ? 'an output' : 'a key'}"
              onclick={() => move(group, i)}>{group === 'keys' ? 'to outputs' : 'to keys'}</button
            ><button
              type="button"
              class="act"
              aria-label="Take the column {column.name} out"
              onclick={() => remove(group, i)}><Icon of={X} size={13} /></button
            >{/if}
        </div>
        <span class="text-small text-soft">
          holds
          <select
            class="editable max-w-full"
            aria-label="What {column.name} holds"
            disabled={!draft.editable}
            value={holds(column)}
            onchange={(e) => setHolds(group, i, e.currentTarget.value)}
          >
            {#each types as t (t)}<option value="={t}">{t}</option>{/each}
            {#each draft.rulebook.recordTypes as type (type.key)}
              <optgroup label={type.name}>
                {#each type.fields as f (f.key)}<option value="{type.key}.{f.key}"
                    >{f.name} of {type.name.toLowerCase()}</option
                  >{/each}
              </optgroup>
            {/each}
          </select>
          {#if group === 'keys' && isText(column)}
            , compared
            <select
              class="editable"
              aria-label="How {column.name} is compared"
              disabled={!draft.editable}
              value={column.match ?? 'exact'}
              onchange={(e) =>
                edit(
                  [{ op: 'add', path: pointer(group, i, 'match'), value: e.currentTarget.value }],
                  'choose how keys are compared',
                )}
            >
              {#each matches as m (m.key)}<option value={m.key}>{m.name}</option>{/each}
            </select>
          {/if}
        </span>
      </div>
    {/each}
    {#if draft.editable}<button type="button" class="word" onclick={() => add(group)}
        >add {group === 'keys' ? 'a key' : 'an output'}</button
      >{/if}
  {/each}
  <h3 class="label mt-3">Whose rows they are</h3>
  <p>
    {#each keepers as email, nth (nth)}
      {#if draft.editable}<button
          type="button"
          class="word mr-2 max-w-full text-left whitespace-normal text-ink!"
          aria-label="{nameOf(email)} keeps the rows: no longer"
          onclick={() => setKeepers(keepers.filter((k) => k !== email))}
          >{nameOf(email)} <span class="quiet" aria-hidden="true">×</span></button
        >{:else}<span class="mr-2">{nameOf(email)}</span>{/if}
    {:else}<span class="quiet mr-2">those of the authors</span>{/each}
    {#if draft.editable}
      <select
        class="editable quiet text-small"
        aria-label="Who may change the rows besides authors"
        value=""
        onchange={(e) => {
          if (e.currentTarget.value) setKeepers([...keepers, e.currentTarget.value]);
          e.currentTarget.value = '';
        }}
      >
        <option value="">add a keeper</option>
        {#each users.filter((u) => !keepers.includes(u.email)) as u (u.email)}<option value={u.email}>{u.name}</option
          >{/each}
      </select>
    {/if}
  </p>
</section>
