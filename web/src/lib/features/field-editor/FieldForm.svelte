<script lang="ts">
  /** All that there is to a field, edited in place. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { fieldsOf, ruleAddress } from '$lib/addresses.ts';
  import { rulesOfField, type TypeProgram } from '@rigid-rule/core/compile';
  import { optionOwner, pointer, removing, type Field, type Operation } from '@rigid-rule/core/document';
  import { fieldTypeOf, fieldTypes } from '@rigid-rule/core/language';
  import type { Draft } from '../draft/draft.svelte.ts';
  import { numberReader } from '../fields';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { orNothing } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { uniqueId } from '$lib/unique-id.ts';
  import { companionEdits, companions, type Companion } from './companions.ts';
  import OptionsEditor from './OptionsEditor.svelte';
  import WrittenAs from './WrittenAs.svelte';
  import RenameInput from '../draft/RenameInput.svelte';

  interface Props {
    draft: Draft;
    program: TypeProgram;
    field: Field;
    /** Goes to another field, or to none. */
    open: (key: string | undefined) => void;
  }
  const { draft, program, field, open }: Props = $props();

  const type = $derived(program.recordType);
  const ref = $derived({ kind: 'field', key: `${type.key}.${field.key}` } as const);
  const readonly = $derived(!draft.editable);
  const others = $derived(draft.rulebook.recordTypes);
  const { writers, readers } = $derived(rulesOfField(program, field.key));
  /** Rules of other record types that read it along a link. */
  const readersElsewhere = $derived(
    [...draft.program.types.values()].flatMap((t) =>
      t.rules.filter((r) => r.related.some((x) => x.recordType === type.key && x.field === field.key)),
    ),
  );
  const users = $derived([...new Set([...writers, ...readers, ...readersElsewhere])]);
  /** Who names it, and what becomes of them without it. */
  const inUse = $derived(
    users.length === 0
      ? 'No rule names it.'
      : `${users.length === 1 ? '1 rule names' : `${users.length} rules name`} it and will be left out until put right: ${users.map((u) => u.rule.name).join('; ')}.`,
  );
  const fieldType = $derived(fieldTypeOf(field));
  const usualRounding = $derived(fieldType.rounding);

  const flags = $derived(
    [
      { key: 'required', name: 'required' },
      { key: 'unique', name: 'unique' },
      { key: 'ordered', name: 'ordered by its options' },
    ].filter((f) => f.key !== 'ordered' || fieldType.chooses === 'one') as {
      key: 'required' | 'unique' | 'ordered';
      name: string;
    }[],
  );

  const edit = (operations: readonly Operation[], label: string, group?: string) =>
    draft.edit(ref, operations, label, group);
  /** Sets a member; undefined takes it out. */
  function set(member: keyof Field, value: unknown, label: string, group?: string) {
    const there = field[member] !== undefined;
    if (value === undefined || value === '' || value === false) {
      if (there) edit([{ op: 'remove', path: pointer(member) }], label, group);
    } else edit([{ op: 'add', path: pointer(member), value }], label, group);
  }
  /** The field whose options these are, where they are shared. */
  const shared = $derived(field.optionsOf === undefined ? undefined : optionOwner(type.fields, field));
  function ownOptions() {
    edit(
      [
        { op: 'remove', path: '/optionsOf' },
        { op: 'add', path: '/options', value: field.options ?? [] },
      ],
      'give a field its own options',
    );
  }
  function setType(key: string) {
    const { chooses: picks, links } = fieldTypeOf({ type: key });
    edit(
      [
        { op: 'replace', path: '/type', value: key },
        ...(picks && !field.options ? [{ op: 'add', path: '/options', value: [] } as const] : []),
        ...(!picks && field.optionsOf !== undefined ? [{ op: 'remove', path: '/optionsOf' } as const] : []),
        ...(!picks && field.options && field.optionsOf === undefined
          ? [{ op: 'remove', path: '/options' } as const]
          : []),
        ...(links && !field.recordType ? [{ op: 'add', path: '/recordType', value: others[0]!.key } as const] : []),
        ...(!links && field.recordType ? [{ op: 'remove', path: '/recordType' } as const] : []),
      ],
      'change the type of a field',
    );
  }
  let visit = '';
  const begin = () => (visit = uniqueId());
  /** As the document's schema has them. */
  const decimals = numberReader({ whole: true, min: -1, max: 10 });

  let linkTo = $state<string>();
  function addCompanion(companion: Companion, other?: string) {
    const name = companion.fieldName(field);
    const key = draft.freeKey('field', name, `${type.key}.`);
    const target = others.find((t) => t.key === other);
    draft.editAll(
      companionEdits(
        companion,
        field,
        type,
        draft.rulebook,
        { field: key, rule: draft.freeKey('rule', `${type.key} ${name}`), fieldPosition: draft.positionAfter(ref) },
        target,
      ),
      `add ${companion.name}`,
    );
    linkTo = undefined;
    open(key);
  }
  /** A companion that is there already is not offered again. */
  const offered = $derived(
    companions.filter((c) => c.suits(field) && !type.fields.some((f) => f.name === c.fieldName(field))),
  );
  let retiring = $state(false);
  function retire() {
    const forms = type.forms.map((f) => (f.fields ? { ...f, fields: f.fields.filter((k) => k !== field.key) } : f));
    draft.editAll(
      [
        { ref, operations: [removing] },
        { ref: { kind: 'record type', key: type.key }, operations: [{ op: 'replace', path: '/forms', value: forms }] },
      ],
      `retire ${field.name}`,
    );
    open(undefined);
  }
</script>

<article class="px-6 pt-[18px] pb-10" aria-label="Field {field.name}">
  <SheetRow label="Name">
    <RenameInput
      {draft}
      name={field.name}
      label="Name of the field"
      renaming={(name) => ({ what: 'field', recordType: type.key, key: field.key, name })}
      class="w-full text-[17px] font-[650]"
    />
    <p class="quiet text-small">Formulas know it by this name: letters, digits and single spaces.</p>
  </SheetRow>
  {#each [{ key: 'label', label: 'On forms', hint: 'another label, where the name cannot say it' }, { key: 'help', label: 'Help', hint: 'a line for those who fill it in' }, { key: 'group', label: 'Section', hint: 'section of the full form' }] as const as line (line.key)}
    <SheetRow label={line.label}>
      <input
        class="editable w-full"
        aria-label={line.label}
        placeholder={line.hint}
        disabled={readonly}
        value={field[line.key] ?? ''}
        onfocus={begin}
        oninput={(e) => set(line.key, e.currentTarget.value, `change ${line.label.toLowerCase()}`, visit)}
      />
    </SheetRow>
  {/each}
  <SheetRow label="Type">
    <select
      class="editable"
      aria-label="Type"
      disabled={readonly}
      value={field.type}
      onchange={(e) => setType(e.currentTarget.value)}
    >
      {#each fieldTypes as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
    </select>
    {#if fieldType.links}
      to a
      <select
        class="editable"
        aria-label="Links to"
        disabled={readonly}
        value={field.recordType}
        onchange={(e) => set('recordType', e.currentTarget.value, 'choose what it links to')}
      >
        {#each others as t (t.key)}<option value={t.key}>{t.name.toLowerCase()}</option>{/each}
      </select>
    {/if}
  </SheetRow>
  {#if fieldType.links}
    <SheetRow label="Other end">
      <RenameInput
        {draft}
        name={field.children ?? type.plural}
        label="Name of the list at the other end"
        renaming={(name) => ({ what: 'children', recordType: type.key, key: field.key, name })}
        class="w-48"
      />
      <span class="quiet ml-2"
        >what the {others.find((t) => t.key === field.recordType)?.name.toLowerCase()} calls the list</span
      >
    </SheetRow>
  {/if}
  {#if fieldType.written}<WrittenAs {draft} {field} />{/if}
  {#if fieldType.numeric}
    <SheetRow label="Decimals">
      <TypedInput
        class="w-10 text-right"
        label="Decimals"
        inputmode="numeric"
        disabled={readonly}
        value={field.scale}
        show={(n) => (n === undefined ? '' : ownWriting(n))}
        read={orNothing(decimals)}
        live
        {begin}
        commit={(n) => set('scale', n, 'change the decimals', visit)}
      />
      <select
        class="editable ml-3"
        aria-label="Rounding"
        disabled={readonly}
        value={field.rounding ?? usualRounding}
        onchange={(e) =>
          set(
            'rounding',
            e.currentTarget.value === usualRounding ? undefined : e.currentTarget.value,
            'change the rounding',
          )}
      >
        <option value="half-up">Round half away from zero ({ownWriting(2.5)} gives 3)</option><option value="half-even"
          >Round half to even ({ownWriting(2.5)} gives 2)</option
        >
      </select>
    </SheetRow>
    <SheetRow label="Between">
      <TypedInput
        class="w-24 text-right"
        label="Least"
        inputmode="decimal"
        disabled={readonly}
        value={field.min}
        show={(n) => (n === undefined ? '' : ownWriting(n))}
        read={orNothing(numberReader())}
        live
        {begin}
        commit={(n) => set('min', n, 'change the least', visit)}
      />
      and
      <TypedInput
        class="w-24 text-right"
        label="Most"
        inputmode="decimal"
        disabled={readonly}
        value={field.max}
        show={(n) => (n === undefined ? '' : ownWriting(n))}
        read={orNothing(numberReader())}
        live
        {begin}
        commit={(n) => set('max', n, 'change the most', visit)}
      />
    </SheetRow>
  {/if}
  {#if fieldType.limited}
    <SheetRow label="At most">
      <TypedInput
        class="w-16 text-right"
        label="Most characters"
        inputmode="numeric"
        disabled={readonly}
        value={field.length}
        show={(n) => (n === undefined ? '' : ownWriting(n))}
        read={orNothing(numberReader({ whole: true, min: 1 }))}
        live
        {begin}
        commit={(n) => set('length', n, 'change the length', visit)}
      /> characters
    </SheetRow>
  {/if}
  <SheetRow label="Is">
    {#each flags as flag (flag.key)}
      <label class="mr-4 inline-flex items-center gap-1.5">
        <input
          type="checkbox"
          class="check"
          disabled={readonly}
          checked={field[flag.key] ?? false}
          onchange={(e) => set(flag.key, e.currentTarget.checked, `change whether it is ${flag.name}`)}
        />{flag.name}
      </label>
    {/each}
  </SheetRow>
  {#if fieldType.chooses}
    <SheetRow label="Options">
      {#if shared}
        <p>{field.options?.map((o) => o.name).join(', ')}</p>
        <p class="quiet mt-1">
          One list with <a class="editable" href={fieldsOf(type.key, { field: shared.key })}>{shared.name}</a>.
          <button type="button" class="word ml-2" disabled={readonly} onclick={ownOptions}>Give it its own</button>
        </p>
      {:else}<OptionsEditor {draft} {field} typeKey={type.key} {edit} />{/if}
    </SheetRow>
  {/if}
  {#each [{ label: 'Written by', rules: writers, none: 'no rule; people and programs fill it in' }, { label: 'Read by', rules: [...readers, ...readersElsewhere], none: 'no rule' }] as part, nth (nth)}
    <SheetRow label={part.label}>
      {#each part.rules as r (r.rule.key)}<a class="editable mr-3" href={ruleAddress(r.rule.recordType, r.rule.key)}
          >{r.rule.name}</a
        >{:else}<span class="quiet">{part.none}</span>{/each}
    </SheetRow>
  {/each}
  {#if !readonly && offered.length > 0}
    <SheetRow label="Also keep">
      {#each offered as c (c.key)}
        <div class="flex flex-wrap items-baseline gap-x-2">
          {#if c.links}
            <button
              type="button"
              class="editable min-h-6"
              aria-expanded={linkTo === c.key}
              onclick={() => (linkTo = linkTo === c.key ? undefined : c.key)}>{c.name}</button
            >
            {#if linkTo === c.key}
              <select
                class="editable"
                aria-label="Which record it names"
                value=""
                onchange={(e) => e.currentTarget.value && addCompanion(c, e.currentTarget.value)}
              >
                <option value="">a record of which type?</option>
                {#each others as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
              </select>
            {/if}
          {:else}<button type="button" class="editable min-h-6" onclick={() => addCompanion(c)}>{c.name}</button>{/if}
          <span class="quiet text-small">{c.help}</span>
        </div>
      {/each}
    </SheetRow>
  {/if}
  {#if !readonly}
    <SheetRow label="Out of use">
      {#if !retiring}<button type="button" class="word" onclick={() => (retiring = true)}>Retire this field</button>
      {:else}
        <div class="border-l-[3px] border-stop bg-stop-wash px-2.5 py-1.5">
          <p>
            {inUse}
            Values that are stored stay stored; it can be undone.
          </p>
          <p class="mt-1 flex gap-2">
            <button type="button" class="button" onclick={retire}>Retire {field.name}</button>
            <button type="button" class="button plain" onclick={() => (retiring = false)}>Keep it</button>
          </p>
        </div>
      {/if}
    </SheetRow>
  {/if}
</article>
