<script lang="ts">
  /** All that a test says, changed in place. */
  import { entryPointsOf, type TypeProgram } from '@rigid-rule/core/compile';
  import { pointer, type Rule, type RuleTest, type Stored } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import { testedId } from '@rigid-rule/core/rule-tests';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm } from '$lib/organisation.svelte.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { useDraft } from '../draft/context.ts';
  import { instantReader } from '../fields';
  import BesideEditor from './BesideEditor.svelte';
  import CasesEditor from './CasesEditor.svelte';
  import FieldValues from './FieldValues.svelte';
  import OthersEditor from './OthersEditor.svelte';
  import StatesEditor from './StatesEditor.svelte';

  interface Props {
    test: RuleTest;
    program: TypeProgram;
    rule: Rule | undefined;
  }
  const { test, program, rule }: Props = $props();
  const { draft, users } = useDraft();

  const ref = $derived({ kind: 'test', key: test.key } as const);
  const type = $derived(program.recordType);
  const ways = $derived(entryPointsOf(type));

  const set = (path: string, value: unknown, label = 'change a test') =>
    draft.edit(ref, [{ op: 'add', path, value }], label, `test ${test.key}${path}`);
  const drop = (path: string) => draft.edit(ref, [{ op: 'remove', path }], 'change a test');

  function setValue(at: '/sent' | '/before/data' | '/expect/fields', key: string, value: unknown) {
    if (at === '/expect/fields' && !test.expect.fields) set('/expect/fields', { [key]: value });
    else set(at + pointer(key), value);
    if (at === '/sent' && test.typed && !test.typed.includes(key)) set('/typed', [...test.typed, key]);
  }
  function removeValue(at: '/sent' | '/before/data' | '/expect/fields', key: string) {
    drop(at + pointer(key));
    if (at === '/sent' && test.typed?.includes(key))
      set(
        '/typed',
        test.typed.filter((k) => k !== key),
      );
  }
  /** Records beside the one under test, and that one itself. */
  const linkable = (of: string) => [
    ...(of === test.recordType ? [{ value: testedId, name: 'the record under test' }] : []),
    ...(test.related ?? [])
      .filter((r) => r.recordType === of)
      .map((r) => ({ value: r.key, name: titleOf(of, r.data, r.key) })),
  ];
  function titleOf(of: string, data: RuleTest['sent'], otherwise: string): string {
    const own = draft.rulebook.recordTypes.find((t) => t.key === of);
    return (own && recordTitle(own, data as Readonly<Record<string, Stored>>)) || otherwise;
  }
</script>

<div class="mt-4 grid grid-cols-[140px_minmax(0,1fr)] gap-x-4 gap-y-2">
  <span class="text-soft">Through</span>
  <select
    class="editable justify-self-start"
    aria-label="Entry point"
    value={test.entryPoint}
    onchange={(e) => set('/entryPoint', e.currentTarget.value)}
  >
    {#each ways as w, nth (nth)}<option value={w.key}>{w.name}</option>{/each}
  </select>
  <span class="text-soft">And through each of</span>
  <span class="flex flex-wrap gap-x-4">
    {#each ways as w, nth (nth)}
      {@const on = test.family?.entryPoints?.includes(w.key) ?? false}
      <label class="flex min-h-6 items-center gap-1.5"
        ><input
          type="checkbox"
          class="check"
          checked={on}
          onchange={() => {
            const { entryPoints = [], ...others } = test.family ?? {};
            const next = on ? entryPoints.filter((k) => k !== w.key) : [...entryPoints, w.key];
            const family = { ...others, ...(next.length > 0 ? { entryPoints: next } : {}) };
            if (Object.keys(family).length > 0) set('/family', family);
            else if (test.family) drop('/family');
          }}
        />{w.name}</label
      >
    {/each}
  </span>
  <span class="text-soft">When</span>
  <select
    class="editable justify-self-start"
    aria-label="Moment"
    value={test.moment}
    onchange={(e) => set('/moment', e.currentTarget.value)}
  >
    {#each ['opening', 'editing', 'creating', 'updating', 'on request'] as m (m)}<option>{m}</option>{/each}
  </select>
  <span class="text-soft">Clock</span>
  <div>
    <TypedInput
      class="w-52"
      label="Clock"
      value={test.now}
      show={(now) => shownInstant(now, organisation.zone, ownForm())}
      read={instantReader(organisation.zone)}
      commit={(now) => set('/now', now)}
    />
  </div>
  <span class="text-soft">Who writes</span>
  <select
    class="editable justify-self-start"
    aria-label="Who writes"
    value={test.user?.email ?? ''}
    onchange={(e) => {
      const user = users.find((u) => u.email === e.currentTarget.value);
      if (user) set('/user', { name: user.name, email: user.email, role: 'record keeper' });
      else if (test.user) drop('/user');
    }}
  >
    <option value="">nobody in particular</option>
    {#if test.user && !users.some((u) => u.email === test.user?.email)}<option value={test.user.email}
        >{test.user.name}</option
      >{/if}
    {#each users as u (u.email)}<option value={u.email}>{u.name}</option>{/each}
  </select>
  <span class="text-soft">Record before</span>
  <div>
    <label class="flex min-h-6 items-center gap-1.5"
      ><input
        type="checkbox"
        class="check"
        checked={test.before === null}
        onchange={(e) => set('/before', e.currentTarget.checked ? null : { data: {} })}
      />none, it is new</label
    >
    {#if test.before}
      <FieldValues
        label="stored"
        {type}
        data={test.before.data}
        set={(k, v) => setValue('/before/data', k, v)}
        remove={(k) => removeValue('/before/data', k)}
        held={test.before.held ?? []}
        hold={(k, held) => {
          const others = (test.before?.held ?? []).filter((x) => x !== k);
          set('/before/held', held ? [...others, k] : others);
        }}
      />
    {/if}
  </div>
  <span class="text-soft">What is sent</span>
  <FieldValues
    label="sent"
    {type}
    data={test.sent as Readonly<Record<string, Stored>>}
    set={(k, v) => setValue('/sent', k, v)}
    remove={(k) => removeValue('/sent', k)}
    {linkable}
  />
  <span class="text-soft">What must come out</span>
  <div class="grid justify-items-start gap-y-2">
    <FieldValues
      label="expected"
      {type}
      data={test.expect.fields ?? {}}
      set={(k, v) => setValue('/expect/fields', k, v)}
      remove={(k) => removeValue('/expect/fields', k)}
      {linkable}
    />
    <span class="flex flex-wrap items-baseline gap-x-4">
      <span
        >and it is
        <select
          class="editable"
          aria-label="Verdict"
          value={test.expect.verdict ?? ''}
          onchange={(e) =>
            e.currentTarget.value ? set('/expect/verdict', e.currentTarget.value) : drop('/expect/verdict')}
        >
          <option value="">saved or not</option>
          <option>saved</option>
          <option>stopped</option>
          <option>does not settle</option>
        </select></span
      >
      {#if rule}
        <span
          >and {rule.name}
          <select
            class="editable"
            aria-label="Whether the rule acts"
            value={test.expect.ran?.includes(rule.key)
              ? 'acts'
              : test.expect.didNotRun?.includes(rule.key)
                ? 'stays out'
                : ''}
            onchange={(e) => {
              const others = (list: readonly string[] | undefined) => (list ?? []).filter((k) => k !== rule.key);
              const v = e.currentTarget.value;
              set('/expect', {
                ...test.expect,
                ran: [...others(test.expect.ran), ...(v === 'acts' ? [rule.key] : [])],
                didNotRun: [...others(test.expect.didNotRun), ...(v === 'stays out' ? [rule.key] : [])],
              });
            }}
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
    {#each [{ key: 'messages', name: 'It says, line by line' }, { key: 'notified', name: 'Who is told, line by line' }] as const as { key, name: title } (key)}
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
            onchange={(e) =>
              set(
                `/expect/${key}`,
                e.currentTarget.value
                  .split('\n')
                  .map((l) => l.trim())
                  .filter((l) => l !== ''),
              )}></textarea>
        {/if}
      </label>
    {/each}
  </div>
  <span class="text-soft">Beside it</span>
  <BesideEditor {test} {set} {drop} {linkable} />
  <span class="text-soft">Cases</span>
  <CasesEditor {test} {program} {set} {drop} />
</div>
