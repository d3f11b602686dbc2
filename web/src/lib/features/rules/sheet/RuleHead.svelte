<script lang="ts">
  /** What a rule is called, what it is for, and what is done with it as a whole. */
  import { goto } from '$app/navigation';
  import { findRuleKind, targetsOf } from '@rigid-rule/core/compile';
  import { pointer, type Operation, type RecordType, type Rule } from '@rigid-rule/core/document';
  import { deskOf } from '$lib/addresses.ts';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { Visit } from '$lib/features/rule-kinds/parts/sheet-edits.ts';
  import { copyText } from '$lib/ui/copy-text.ts';
  import { fitsText } from '$lib/ui/fits-text.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';
  import { ruleToText } from '../rule-text.ts';

  interface Props {
    rule: Rule;
    draft: Draft;
    recordType: RecordType;
    edit: (operations: readonly Operation[], label: string, group?: string) => void;
  }
  const { rule, draft, recordType, edit }: Props = $props();
  const readonly = $derived(!draft.editable);
  const set = (member: string, value: unknown, label: string, group?: string) =>
    edit([{ op: 'add', path: pointer(member), value }], label, group);

  const visit = new Visit();
  /** What stands in the input while it is no name: the rule keeps the one before. */
  let naming = $state<string>();
  function rename(name: string) {
    naming = name.trim() === '' ? name : undefined;
    if (naming === undefined) set('name', name, 'rename the rule', `name:${visit.group}`);
  }

  let copied = $state<'copied: paste it on any record type' | 'this browser lets nothing be copied'>();
  async function duplicate() {
    const { duplicateRule } = await import('../new-rule.ts');
    void goto(duplicateRule(draft, rule));
  }
  async function copy() {
    copied = (await copyText(ruleToText(rule)))
      ? 'copied: paste it on any record type'
      : 'this browser lets nothing be copied';
    setTimeout(() => (copied = undefined), 2000);
  }
  function remove() {
    // Its address is made first: once it is gone there is no rule here to ask.
    const next = deskOf(recordType.key, { field: targetsOf(rule)[0] ?? '' });
    draft.remove([{ kind: 'rule', key: rule.key }], `remove ${rule.name}`);
    void goto(next);
  }
</script>

<SheetRow label={findRuleKind(rule.kind)?.name ?? rule.kind}>
  <div class="mb-[5px]">
    <div class="flex items-start gap-3">
      {#if readonly}
        <h1 class="min-w-0 flex-1">{rule.name}</h1>
      {:else}
        <h1 class="sr-only">{rule.name}</h1>
        <div class="min-w-0 flex-1">
          <input
            class="w-full bg-transparent text-[20px] leading-[26px] font-[650] outline-offset-4"
            aria-label="Name of the rule"
            value={naming ?? rule.name}
            aria-invalid={naming === undefined ? undefined : 'true'}
            onfocus={visit.begin}
            oninput={(e) => rename(e.currentTarget.value)}
            onblur={() => (naming = undefined)}
          />
          {#if naming !== undefined}<p class="text-small text-stop" role="alert">
              Enter a name: it stays {rule.name} until there is one.
            </p>{/if}
        </div>
      {/if}
      <label class="flex shrink-0 items-center gap-1.5 pt-1 text-small text-soft">
        <input
          type="checkbox"
          role="switch"
          checked={rule.on}
          disabled={readonly}
          onchange={(e) => set('on', e.currentTarget.checked, 'switch the rule')}
          class="check"
        />
        {rule.on ? 'on' : 'off'}
      </label>
    </div>
    <textarea
      use:fitsText={rule.purpose}
      class="mt-0.5 block field-sizing-content w-full resize-none overflow-hidden bg-transparent text-soft"
      rows="1"
      aria-label="Purpose"
      placeholder="What is it for? A sentence for whoever reads it next."
      {readonly}
      value={rule.purpose}
      onfocus={visit.begin}
      oninput={(e) => set('purpose', e.currentTarget.value, 'reword the purpose', `purpose:${visit.group}`)}></textarea>
    <!-- What tests say comes later than the rule. -->
    {#await import('$lib/features/proof/ProofMarks.svelte')}
      <p class="text-small"><span class="inline-block py-[3px]">&nbsp;</span></p>
    {:then { default: ProofMarks }}
      <ProofMarks {draft} {rule} />
    {/await}
    {#if !readonly}
      <p class="flex gap-3 text-small text-faint">
        <button type="button" class="word" onclick={duplicate}>duplicate</button>
        <button type="button" class="word" onclick={copy}>{copied ?? 'copy'}</button>
        <button type="button" class="word" onclick={remove}>remove</button>
      </p>
    {/if}
  </div>
</SheetRow>
