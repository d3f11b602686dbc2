<script lang="ts">
  /** What is sent to the outbox when the rule acts: an email, a task, a message to another program. */
  import type { CompiledRule, TypeProgram } from '@rigid-rule/core/compile';
  import type { Field, Notice, Operation, Rule } from '@rigid-rule/core/document';
  import { fieldTypeOf, linkedType } from '@rigid-rule/core/language';
  import Icon from '$lib/ui/Icon.svelte';
  import X from 'lucide/dist/esm/icons/x.mjs';
  import { NumberInput } from '$lib/features/fields';
  import { FormulaInput } from '$lib/features/formula';
  import { saidAt, Visit } from '$lib/features/rule-kinds/parts/sheet-edits.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    rule: Rule;
    compiled: CompiledRule;
    program: TypeProgram;
    readonly: boolean;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { rule, compiled, program, readonly, edit }: Props = $props();
  const notices = $derived(rule.notify ?? []);
  const visit = new Visit();
  const channels = [
    { key: 'email', name: 'an email' },
    { key: 'task', name: 'a task' },
    { key: 'webhook', name: 'a webhook message' },
  ] as const;

  /** Who is mostly told: emails and users of the record, of those it links to, and of those that link to it. */
  const usual = $derived.by(() => {
    const { recordType, scope, childLists } = program;
    const reachable = (f: Field) => fieldTypeOf(f).reaches;
    const fieldsOf = (type: string | undefined) =>
      (scope.book?.recordTypes.find((t) => t.key === type)?.fields ?? []).filter(reachable).map((f) => f.name);
    return [
      ...recordType.fields.filter(reachable).map((f) => f.name),
      ...recordType.fields.flatMap((f) => fieldsOf(linkedType(f)).map((n) => `${f.name}.${n}`)),
      ...[...childLists.values()].flatMap((list) => fieldsOf(list.recordType).map((n) => `${list.name}.${n}`)),
    ];
  });
  /** A task is for whoever the record belongs to, until someone else is named. */
  function setChannel(i: number, channel: Notice['channel']) {
    const owner = program.recordType.fields.find((f) => fieldTypeOf(f).users)?.name;
    const to = channel === 'task' && notices[i]!.to === '' && owner ? { to: owner } : {};
    setOne(i, { channel, ...to }, 'choose the channel');
  }

  function setDue(i: number, days: number | undefined) {
    const { dueInDays: _, ...rest } = notices[i]!;
    setAll(
      notices.map((n, x) => (x !== i ? n : days === undefined ? rest : { ...rest, dueInDays: days })),
      'change when it is due',
      visit.group,
    );
  }
  const setAll = (list: readonly Notice[], label: string, group?: string) =>
    edit([{ op: 'add', path: '/notify', value: list }], label, group);
  const setOne = (i: number, more: Partial<Notice>, label: string, group?: string) =>
    setAll(
      notices.map((n, x) => (x === i ? { ...n, ...more } : n)),
      label,
      group,
    );
</script>

<SheetRow label="Notifies">
  {#each notices as notice, i (i)}
    {@const path = `/notify/${i}`}
    <div class="notice" role="group" aria-label="Notification {i + 1}">
      <div class="flex flex-wrap items-baseline gap-x-2">
        <select
          class="editable"
          aria-label="Channel of notification {i + 1}"
          disabled={readonly}
          value={notice.channel}
          onchange={(e) => setChannel(i, e.currentTarget.value as Notice['channel'])}
        >
          {#each channels as c (c.key)}<option value={c.key}>{c.name}</option>{/each}
        </select>
        {#if notice.channel === 'task'}
          due in
          <NumberInput
            class="w-10 text-right"
            label="Days until task {i + 1} is due"
            whole
            min={0}
            disabled={readonly}
            value={notice.dueInDays}
            live
            begin={visit.begin}
            commit={(days) => setDue(i, days)}
            clear={() => setDue(i, undefined)}
          /> days
        {/if}
        {#if !readonly && usual.length > 0}
          to
          <select
            class="editable"
            aria-label="Who is told by notification {i + 1}"
            value={usual.includes(notice.to) ? notice.to : ''}
            onchange={(e) => e.currentTarget.value && setOne(i, { to: e.currentTarget.value }, 'choose who is told')}
          >
            <option value="">a formula</option>
            {#each usual as u, nth (nth)}<option value={u}>{u}</option>{/each}
          </select>
        {/if}
        {#if !readonly}<button
            type="button"
            class="act ml-auto"
            aria-label="Remove notification {i + 1}"
            onclick={() =>
              setAll(
                notices.filter((_, x) => x !== i),
                'remove a notification',
              )}><Icon of={X} size={13} /></button
          >{/if}
      </div>
      {#each [{ key: 'to', label: 'To', template: false, hint: 'who: an email, a user, or a list such as  Contacts.Email' }, { key: 'subject', label: 'Subject', template: true, hint: 'a text with fields in braces' }, { key: 'body', label: 'Text', template: true, hint: 'a text with fields in braces' }] as const as part (part.key)}
        <div class="part">
          <span class="label">{part.label}</span>
          <div class="min-w-0">
            <FormulaInput
              text={notice[part.key]}
              label="{part.label} of notification {i + 1}"
              scope={program.scope}
              template={part.template}
              {readonly}
              placeholder={part.hint}
              diagnostics={saidAt(compiled, `${path}/${part.key}`)}
              begin={visit.begin}
              change={(text) => setOne(i, { [part.key]: text }, 'change a notification', visit.group)}
            />
          </div>
        </div>
      {/each}
    </div>
  {:else}<span class="quiet mr-3">nobody</span>{/each}
  {#if !readonly}
    <button
      type="button"
      class="word"
      onclick={() => setAll([...notices, { channel: 'email', to: '', subject: '', body: '' }], 'add a notification')}
      >add a notification</button
    >
  {/if}
</SheetRow>

<style>
  .notice {
    padding-bottom: 8px;
  }
  .notice + .notice {
    border-top: 1px solid var(--line);
    padding-top: 5px;
  }
  .part {
    display: grid;
    grid-template-columns: 56px minmax(0, 1fr);
    gap: 8px;
    padding-top: 3px;
  }
</style>
