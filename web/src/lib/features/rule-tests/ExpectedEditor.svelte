<script lang="ts">
  /** What must come out of a test: values, verdict, whether the rule acts, states, other records, messages, notices. */
  import type { RecordType, Rule, RuleTest } from '@rigid-rule/core/document';
  import { expectedVerdicts, settledText } from '@rigid-rule/core/rule-tests';
  import FieldValues from './FieldValues.svelte';
  import OthersEditor from './OthersEditor.svelte';
  import StatesEditor from './StatesEditor.svelte';
  import type { Linkable, TestEdits } from './test-edits.ts';

  interface Props extends TestEdits {
    test: RuleTest;
    type: RecordType;
    rule: Rule | undefined;
    linkable: Linkable;
    setValue: (field: string, value: unknown) => void;
    removeValue: (field: string) => void;
  }
  const { test, type, rule, set, drop, linkable, setValue, removeValue }: Props = $props();
  const lists = [
    { key: 'messages', name: 'It says, line by line' },
    { key: 'notified', name: 'Who is told, line by line' },
  ] as const;
  /** Also one that only an earlier version knew. */
  const verdicts = $derived([...new Set([...expectedVerdicts, ...(test.expect.verdict ? [test.expect.verdict] : [])])]);
  const linesOf = (text: string) =>
    text
      .split('\n')
      .map((l) => l.trim())
      .filter((l) => l !== '');

  const acts = (rule: Rule) =>
    test.expect.ran?.includes(rule.key) ? 'acts' : test.expect.didNotRun?.includes(rule.key) ? 'stays out' : '';
  function setActs(rule: Rule, said: string) {
    const others = (list: readonly string[] | undefined) => (list ?? []).filter((k) => k !== rule.key);
    set('/expect', {
      ...test.expect,
      ran: [...others(test.expect.ran), ...(said === 'acts' ? [rule.key] : [])],
      didNotRun: [...others(test.expect.didNotRun), ...(said === 'stays out' ? [rule.key] : [])],
    });
  }
</script>

<div class="grid justify-items-start gap-y-2">
  <FieldValues label="expected" {type} data={test.expect.fields ?? {}} set={setValue} remove={removeValue} {linkable} />
  <span class="flex flex-wrap items-baseline gap-x-4">
    <span
      >and it
      <select
        class="editable"
        aria-label="Verdict"
        value={test.expect.verdict ?? ''}
        onchange={(e) =>
          e.currentTarget.value ? set('/expect/verdict', e.currentTarget.value) : drop('/expect/verdict')}
      >
        <option value="">is saved or not</option>
        {#each verdicts as verdict (verdict)}<option value={verdict}>{settledText(verdict)}</option>{/each}
      </select></span
    >
    {#if rule}
      <span
        >and {rule.name}
        <select
          class="editable"
          aria-label="Whether the rule acts"
          value={acts(rule)}
          onchange={(e) => setActs(rule, e.currentTarget.value)}
        >
          <option value="">acts or not</option>
          <option>acts</option>
          <option>stays out</option>
        </select></span
      >
    {/if}
  </span>
  <StatesEditor
    {type}
    states={test.expect.states ?? {}}
    set={(states) => (Object.keys(states).length > 0 ? set('/expect/states', states) : drop('/expect/states'))}
  />
  <OthersEditor {test} {set} {drop} />
  {#each lists as { key, name: title } (key)}
    <label class="block w-full">
      <span class="flex min-h-6 items-center gap-1.5 text-soft"
        ><input
          type="checkbox"
          class="check"
          aria-label={title}
          checked={test.expect[key] !== undefined}
          onchange={(e) => (e.currentTarget.checked ? set(`/expect/${key}`, []) : drop(`/expect/${key}`))}
        />{title}</span
      >
      {#if test.expect[key]}
        <textarea
          class="box mt-1 w-full"
          rows={Math.max(1, test.expect[key].length)}
          aria-label="{title}: the lines"
          placeholder="nothing"
          value={test.expect[key].join('\n')}
          onchange={(e) => set(`/expect/${key}`, linesOf(e.currentTarget.value))}></textarea>
      {/if}
    </label>
  {/each}
</div>
