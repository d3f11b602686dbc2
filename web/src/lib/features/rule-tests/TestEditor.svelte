<script lang="ts">
  /** All that a test says, changed in place. */
  import { entryPointsOf, type TypeProgram } from '@rigid-rule/core/compile';
  import { moments, pointer, type Rule, type RuleTest, type Stored } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import { testedId } from '@rigid-rule/core/rule-tests';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm } from '$lib/organisation.svelte.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { useDraft } from '../draft/context.ts';
  import { instantReader } from '../fields';
  import BesideEditor from './BesideEditor.svelte';
  import CasesEditor from './CasesEditor.svelte';
  import ExpectedEditor from './ExpectedEditor.svelte';
  import FieldValues from './FieldValues.svelte';
  import type { Linkable } from './test-edits.ts';
  import TestUser from './TestUser.svelte';

  interface Props {
    test: RuleTest;
    program: TypeProgram;
    rule: Rule | undefined;
  }
  const { test, program, rule }: Props = $props();
  const { draft } = useDraft();

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
  const linkable: Linkable = (of) => [
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
    {#each moments as m (m.key)}<option value={m.key}>{m.name}</option>{/each}
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
  <TestUser {test} {set} {drop} {linkable} />
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
  <ExpectedEditor
    {test}
    {type}
    {rule}
    {set}
    {drop}
    {linkable}
    setValue={(k, v) => setValue('/expect/fields', k, v)}
    removeValue={(k) => removeValue('/expect/fields', k)}
  />
  <span class="text-soft">Beside it</span>
  <BesideEditor {test} {set} {drop} {linkable} />
  <span class="text-soft">Cases</span>
  <CasesEditor {test} {program} {set} {drop} />
</div>
