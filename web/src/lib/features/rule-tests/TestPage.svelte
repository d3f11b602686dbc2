<script lang="ts">
  /** One test: read aloud, its cases, what it expects and what came out; all of it changed in place. */
  import { counted } from '$lib/counted.ts';
  import { testsAddress, testsOfType } from '$lib/addresses.ts';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { nameOfField, type RecordData, type Rule, type RuleTest } from '@rigid-rule/core/document';
  import type { TypeProgram } from '@rigid-rule/core/compile';
  import {
    acceptedSteps,
    didText,
    idleVerdicts,
    settleTest,
    shownStep,
    testValueText,
  } from '@rigid-rule/core/rule-tests';
  import { shownInstant } from '$lib/instants.ts';
  import { organisation, ownForm, ownWriting } from '$lib/organisation.svelte.ts';
  import { untrack } from 'svelte';
  import { useDraft } from '../draft/context.ts';
  import FamilyCases from './FamilyCases.svelte';
  import TestEditor from './TestEditor.svelte';
  import { handover } from '../proof/handover.ts';
  import { caseCount } from '../proof/cases.ts';
  import { shownValue } from '$lib/features/fields';
  import { readName } from '$lib/ui/typed.ts';
  import TypedInput from '$lib/ui/TypedInput.svelte';
  import { fieldsThatMatter } from '../proof/fields-that-matter.ts';
  import { testSentences } from '../proof/sentences.ts';

  interface Props {
    test: RuleTest;
    program: TypeProgram;
    rule: Rule | undefined;
  }
  const { test, program, rule }: Props = $props();
  const { draft } = useDraft();

  const ref = $derived({ kind: 'test', key: test.key } as const);
  const lines = $derived(draft.testLines.filter((l) => l.of === test.key));
  const failing = $derived(lines.filter((l) => l.failures.length > 0));
  const type = $derived(program.recordType);
  let editing = $state(untrack(() => page.url.searchParams.get('edit') === '1' && draft.editable));

  /** A family's first failing case, or the test itself, where it can be looked at closely. */
  const onBench = $derived.by(() => {
    const { family: _, ...own } = test;
    return own as RuleTest;
  });

  /** What comes out now, for the fields that are looked at. */
  const given = $derived(test.family ? undefined : settleTest(draft.program, onBench));
  const different = $derived(
    given
      ? Object.entries(test.expect.fields ?? {}).filter(
          ([k, v]) => JSON.stringify(given.data[k] ?? null) !== JSON.stringify(v),
        )
      : [],
  );
  const about = $derived(fieldsThatMatter(test, program, rule, given?.trace));
  let all = $state(false);
  const words = $derived(testSentences(test, draft.rulebook, shownValue, all ? undefined : about));
  const name = (key: string) => type.fields.find((f) => f.key === key)?.name ?? key;

  /** Of what is looked at, the value of one field as it comes out now. */
  function acceptField(key: string) {
    if (!given) return;
    const expect = { ...test.expect, fields: { ...test.expect.fields, [key]: given.data[key] ?? null } };
    draft.edit(
      ref,
      [
        { op: 'replace', path: '/expect', value: expect },
        { op: 'add', path: '/accepted', value: acceptedSteps(given, program) },
      ],
      'accept what comes out',
    );
  }

  function remove() {
    draft.remove([ref], 'remove a test');
    void goto(rule ? testsAddress(type.key, rule.key) : testsOfType(type.key));
  }
  function rename(name: string) {
    if (name)
      draft.edit(ref, [{ op: 'replace', path: '/name', value: name }], 'rename a test', `test ${test.key}/name`);
  }
  function copy() {
    const key = draft.freeKey('test', test.name);
    draft.create({ kind: 'test', key }, { ...test, key, name: `${test.name}, again` }, 'copy a test');
    if (rule) void goto(`${testsAddress(type.key, rule.key, key)}&edit=1`);
  }
  const ruleName = (key: string) => draft.rulebook.rules.find((r) => r.key === key)?.name ?? key;
  /** What each rule did when the test was accepted, beside what it does now. */
  const steps = $derived.by(() => {
    if (!given) return [];
    const then = new Map((test.accepted ?? []).map((s) => [s.rule, s]));
    const now = given.trace.filter((t) => !idleVerdicts.has(t.verdict));
    const keys = [...new Set([...now.map((t) => t.rule), ...then.keys()])];
    return keys.map((key) => {
      const own = given.trace.find((t) => t.rule === key);
      const did = acceptedSteps(given, program).find((s) => s.rule === key)?.text;
      return { key, name: ruleName(key), now: own?.verdict, did, then: then.get(key) };
    });
  });
  /** The values of a record that stands beside the test. */
  function valuesOf(recordType: string, data: RecordData): string {
    const { rulebook } = draft;
    const fields = rulebook.recordTypes.find((t) => t.key === recordType)?.fields ?? [];
    return Object.entries(data)
      .map(([k, v]) => `${nameOfField(fields, k)} ${testValueText(recordType, k, v, test, rulebook, shownValue)}`)
      .join(', ');
  }
  const said = (rule: string, verdict: string | undefined, text: string | undefined) =>
    verdict === undefined || text === undefined ? didText(verdict) : shownStep({ rule, verdict, text }, program);
  const nameOfType = (key: string) => draft.rulebook.recordTypes.find((t) => t.key === key)?.name ?? key;
</script>

<p class="flex items-baseline justify-between gap-4">
  <a class="editable" href={rule ? testsAddress(type.key, rule.key) : testsOfType(type.key)}
    >{rule ? `All tests of ${rule.name}` : 'All tests'}</a
  >
  <span class="flex gap-4">
    <button type="button" class="word" onclick={() => void goto(handover(onBench, rule?.key))}
      >see it on the bench</button
    >
    {#if draft.editable}
      <button type="button" class="word" aria-pressed={editing} onclick={() => (editing = !editing)}
        >{editing ? 'done' : 'change it'}</button
      >
      <button type="button" class="word" onclick={copy}>copy</button>
      <button type="button" class="word" onclick={remove}>remove</button>
    {/if}
  </span>
</p>
{#if editing}
  <h1 class="sr-only">{test.name}</h1>
  <TypedInput
    class="mt-2 w-full text-[20px] leading-[26px] font-[650]"
    label="Name of the test"
    value={test.name}
    show={(name) => name}
    read={readName}
    commit={(name) => rename(name.trim())}
  />
{:else}<h1 class="mt-2">{test.name}</h1>{/if}

<p class="mt-1 text-[15px] leading-6">
  {words.act}
  {#if words.unsaid > 0 || all}<button type="button" class="word" onclick={() => (all = !all)}
      >{all ? 'only what matters' : 'all values'}</button
    >{/if}
</p>
<p class="text-[15px] leading-6">
  {#if words.then.length > 0}Then {words.then.join(', ')}.{:else}<span class="text-stop"
      >It looks at nothing yet: say what must come of it.</span
    >{/if}
</p>
<p class={['mt-1', failing.length > 0 ? 'text-stop' : 'text-ok']} role="status">
  {#if lines.length === 0}<span class="text-soft">not run yet</span>
  {:else if failing.length > 0}{test.family
      ? `${ownWriting(failing.length)} of ${counted(lines.length, 'case')} fail`
      : 'It fails.'}
  {:else}{test.family ? `all ${counted(lines.length, 'case')} hold` : 'It holds.'}{/if}
</p>

{#if test.family && !editing}
  <div class="mt-3"><FamilyCases {test} {program} {lines} /></div>
{/if}
{#if !test.family && failing.length > 0}
  <ul class="mt-2 border-l-[3px] border-stop bg-stop-wash px-3 py-1.5">
    {#each failing[0]!.failures as f, i (i)}<li>{f}</li>{/each}
    {#if draft.editable}
      {#each different as [key], nth (nth)}
        <li>
          <button type="button" class="word" onclick={() => acceptField(key)}
            >expect of {name(key)} what comes out from now on</button
          >
        </li>
      {/each}
    {/if}
  </ul>
{/if}

{#if editing}<TestEditor {test} {program} {rule} />{/if}

{#if !editing && ((test.related ?? []).length > 0 || test.origin)}
  <h2 class="label mt-6">Beside it</h2>
  <ul>
    {#each test.related ?? [] as r (`${r.recordType} ${r.key}`)}
      <li class="border-b border-line py-1">
        <span class="text-soft">{nameOfType(r.recordType)} {r.key}:</span>
        {valuesOf(r.recordType, r.data)}
      </li>
    {/each}
    {#if test.origin}<li class="border-b border-line py-1">
        <span class="text-soft">Made from, {nameOfType(test.origin.recordType)}:</span>
        {valuesOf(test.origin.recordType, test.origin.data)}
      </li>{/if}
  </ul>
{/if}

{#if steps.length > 0}
  <h2 class="label mt-6">{test.accepted ? 'What the rules did then, and do now' : 'What the rules do now'}</h2>
  <table class="w-full">
    <thead class={test.accepted ? '' : 'sr-only'}>
      <tr class="text-left text-soft"
        ><th class="font-normal">Rule</th>{#if test.accepted}<th class="font-normal">then</th>{/if}<th
          class="font-normal">now</th
        ></tr
      >
    </thead>
    <tbody>
      {#each steps as s (s.key)}
        <tr class="border-b border-line">
          <td class="py-[3px] pr-3">{s.name}</td>
          {#if test.accepted}<td class="pr-3 text-soft"
              >{s.then ? said(s.key, s.then.verdict, s.then.text) : 'stayed out'}</td
            >{/if}
          <td
            class={test.accepted && (s.then?.verdict !== s.now || s.then?.text !== s.did)
              ? 'font-[650] text-stop'
              : 'text-soft'}>{said(s.key, s.now, s.did)}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
<p class="mt-4 text-small text-soft">
  {counted(caseCount([test]), 'case')}; clock {shownInstant(test.now, organisation.zone, ownForm())}.
</p>
