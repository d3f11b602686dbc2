<script lang="ts">
  /** Record types and their fields: the list with who writes and reads each, and the chosen field beside it. */
  import { counted } from '$lib/counted.ts';
  import { fieldsOf, ruleAddress } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { isFieldName, partId, type Field } from '@rigid-rule/core/document';
  import { rulesByField } from '@rigid-rule/core/compile';
  import { group } from 'd3-array';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import GripVertical from 'lucide/dist/esm/icons/grip-vertical.mjs';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import { useDraft } from '../draft/context.ts';
  import { LinkedPrograms } from '../draft/linked-programs.svelte.ts';
  import { KindMark } from '$lib/features/rule-kinds';
  import FieldForm from './FieldForm.svelte';
  import { addRecordType } from './new-record-type.ts';
  import TypeForm from './TypeForm.svelte';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    typeKey: string;
    fieldKey: string | undefined;
  }
  const { typeKey, fieldKey }: Props = $props();
  const { draft } = useDraft();

  const program = $derived(draft.program.types.get(typeKey)!);
  const type = $derived(program.recordType);
  const field = $derived(type.fields.find((f) => f.key === fieldKey));
  const findings = $derived(group(draft.findings, (x) => partId(x.part)));
  const linked = new LinkedPrograms(
    () => draft,
    () => program,
  );
  const rows = $derived(
    rulesByField(program, linked.known).fields.map(({ writers, readers }, slot) => {
      const f = program.slots[slot]!.field;
      const part = partId({ kind: 'field', key: `${type.key}.${f.key}` });
      return { id: f.key, field: f, writers, readers, findings: findings.get(part) ?? [] };
    }),
  );
  let filter = $state('');
  const text = $derived(filter.trim().toLowerCase());
  const shown = $derived(rows.filter((r) => r.field.name.toLowerCase().includes(text)));
  let naming = $state('');
  let namingInput: HTMLInputElement | undefined = $state();
  // Who asks for a new field from anywhere names it at once.
  $effect(() => {
    if (page.url.searchParams.has('new')) namingInput?.focus();
  });
  let namingType = $state('');
  const taken = $derived(type.fields.some((f) => f.name.toLowerCase() === naming.trim().toLowerCase()));
  const problem = $derived(
    naming.trim() === ''
      ? ''
      : taken
        ? 'There is a field of that name.'
        : isFieldName(naming.trim())
          ? ''
          : 'Letters, digits and single spaces, and no word of the formula language.',
  );

  const open = (key: string | undefined) =>
    void goto(fieldsOf(type.key, key === undefined ? {} : { field: key }), { keepFocus: true });
  function addField() {
    const name = naming.trim();
    if (name === '' || problem) return;
    const key = draft.freeKey('field', name, `${type.key}.`);
    const body: Field = { key, name, type: 'text' };
    draft.create({ kind: 'field', key: `${type.key}.${key}` }, body, `add the field ${name}`);
    naming = '';
    open(key);
  }
  function addType() {
    const key = addRecordType(draft, namingType);
    if (key === undefined) return;
    namingType = '';
    void goto(fieldsOf(key));
  }
  let dragging = $state<(typeof rows)[number][]>();
  const items = $derived(dragging ?? shown);
  type DragEvent = CustomEvent<{ items: (typeof rows)[number][]; info: { id: string } }>;
  function dropped({ detail }: DragEvent) {
    dragging = undefined;
    const at = detail.items.findIndex((r) => r.id === detail.info.id);
    place(detail.info.id, detail.items[at - 1]?.id, detail.items[at + 1]?.id);
  }
  /** Puts a field between two others. */
  function place(key: string, before: string | undefined, after: string | undefined) {
    const at = (k: string | undefined) =>
      k === undefined ? undefined : draft.part({ kind: 'field', key: `${type.key}.${k}` })?.position;
    const [low, high] = [at(before), at(after)];
    const position = low === undefined ? (high ?? 0) - 1 : high === undefined ? low + 1 : (low + high) / 2;
    draft.editAll([{ ref: { kind: 'field', key: `${type.key}.${key}` }, operations: [], position }], 'move a field');
  }
  function nudge(e: KeyboardEvent, key: string) {
    if (!e.altKey || !['ArrowUp', 'ArrowDown'].includes(e.key)) return;
    e.preventDefault();
    const order = rows.map((r) => r.id);
    const i = order.indexOf(key);
    if (e.key === 'ArrowUp' && i > 0) place(key, order[i - 2], order[i - 1]);
    if (e.key === 'ArrowDown' && i < order.length - 1) place(key, order[i + 1], order[i + 2]);
  }
</script>

<svelte:head><title>{field?.name ?? `Fields of ${type.plural}`} · Rigid Rule</title></svelte:head>

<div class="panes grid-cols-[190px_minmax(0,1fr)_minmax(0,1.15fr)]">
  <nav class="border-r border-line py-3" aria-label="Record types">
    {#each draft.rulebook.recordTypes as t (t.key)}
      <a
        href={fieldsOf(t.key)}
        aria-current={t.key === type.key ? 'page' : undefined}
        class={[
          'block px-4 py-1 hover:bg-sheet',
          t.key === type.key && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
        ]}>{t.name} <span class="quiet text-small font-normal">{ownWriting(t.fields.length)}</span></a
      >
    {/each}
    {#if draft.editable}
      <input
        class="editable mx-4 mt-3 w-[150px]"
        aria-label="New record type"
        placeholder="a new record type"
        bind:value={namingType}
        onkeydown={(e) => e.key === 'Enter' && addType()}
      />
    {/if}
  </nav>
  <section class="flex min-h-0 flex-col bg-sheet" aria-label="Fields of {type.plural}">
    <div class="flex items-baseline gap-3 px-5 pt-[18px] pb-2">
      <h1 class="min-w-0 flex-1">{type.plural}</h1>
      <input
        type="search"
        class="editable w-36"
        aria-label="Filter fields"
        placeholder="Filter fields"
        bind:value={filter}
      />
    </div>
    <div class="min-h-0 flex-1 overflow-y-auto px-5 pb-4">
      <div class="line label" aria-hidden="true">
        <span></span><span>Field</span><span>Type</span><span>Written by</span><span>Read by</span>
      </div>
      <ul
        use:dragHandleZone={{
          items: [...items],
          flipDurationMs: 120,
          dropTargetStyle: {},
          dragDisabled: !draft.editable || text !== '',
        }}
        onconsider={(e: DragEvent) => (dragging = e.detail.items)}
        onfinalize={dropped}
      >
        {#each items as row (row.id)}
          <li class={['line', row.field.key === field?.key && 'on']}>
            {#if draft.editable && text === ''}<span
                use:dragHandle
                class="cursor-grab text-faint"
                aria-label="Drag {row.field.name}"><Icon of={GripVertical} size={12} /></span
              >{:else}<span></span>{/if}
            <a
              href={fieldsOf(type.key, { field: row.field.key })}
              class="flex min-h-6 items-center gap-1.5 truncate hover:text-brass"
              aria-current={row.field.key === field?.key ? 'true' : undefined}
              aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
              onkeydown={(e) => nudge(e, row.id)}
              >{row.field.name}{#if row.field.required}<span class="quiet">
                  required</span
                >{/if}{#if row.field.unique}<span class="quiet"> unique</span>{/if}
              {#if row.findings.length > 0}<span
                  class="inline-block size-1.5 rounded-full bg-brass"
                  title={row.findings.map((f) => f.sentence).join('\n')}
                  ><span class="sr-only">{counted(row.findings.length, 'finding')}</span></span
                >{/if}</a
            >
            <span class="text-small text-faint"
              >{fieldTypeOf(row.field).name}{#if row.field.options}, {ownWriting(row.field.options.length)}{/if}</span
            >
            <span class="flex gap-1 text-held">
              {#each row.writers as w (w.rule.key)}<a
                  href={ruleAddress(w.rule.recordType, w.rule.key)}
                  title={w.rule.name}
                  class="inline-grid size-6 place-items-center"
                  ><KindMark kind={w.rule.kind} label="written by {w.rule.name}" /></a
                >{/each}
            </span>
            <span class="text-small text-soft">{row.readers.length > 0 ? counted(row.readers.length, 'rule') : ''}</span
            >
          </li>
        {/each}
      </ul>
      {#if draft.editable}
        <form
          class="pt-2"
          onsubmit={(e) => {
            e.preventDefault();
            addField();
          }}
        >
          <input
            class="editable w-64"
            aria-label="New field"
            aria-invalid={problem ? 'true' : undefined}
            placeholder="name of a new field, then Enter"
            bind:value={naming}
            bind:this={namingInput}
          />
          {#if problem}<p class="text-small text-stop">{problem}</p>{/if}
        </form>
      {/if}
    </div>
  </section>
  <div class="overflow-y-auto border-l border-line">
    {#if field}
      {@const rules = rows.find((row) => row.field.key === field.key)!}
      {#key `${type.key}.${field.key}`}<FieldForm {draft} {program} {field} {rules} {open} />{/key}
    {:else}
      {#key type.key}<TypeForm {draft} {type} />{/key}
    {/if}
  </div>
</div>

<style>
  .line {
    display: grid;
    grid-template-columns: 16px minmax(0, 1.5fr) minmax(0, 1fr) 76px 60px;
    gap: 8px;
    align-items: center;
    border-bottom: 1px solid var(--line);
    min-height: 27px;
  }
  .on {
    background: var(--brass-wash);
    font-weight: 650;
  }
  .on > :global(.text-faint) {
    color: var(--soft);
  }
</style>
