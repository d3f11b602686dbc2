<script lang="ts">
  /** A field on which the sheet shows no rule: what it is, who writes it and who reads it. */
  import { fieldsOf, ruleAddress } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { rulesOfField, type TypeProgram } from '@rigid-rule/core/compile';
  import type { Field } from '@rigid-rule/core/document';
  import { fieldTypeOf, optionList } from '@rigid-rule/core/language';
  import { KindMark } from '$lib/features/rule-kinds';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import { LinkedPrograms } from '$lib/features/draft/linked-programs.svelte.ts';
  import { FindingList } from '../findings';
  import KindChooser from './KindChooser.svelte';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    field: Field;
    program: TypeProgram;
    draft: Draft;
  }
  const { field, program, draft }: Props = $props();
  const linked = new LinkedPrograms(
    () => draft,
    () => program,
  );
  const { writers, readers } = $derived(rulesOfField(program, field.key, linked.known));
  const findings = $derived(
    draft.findings.filter((f) => f.part.kind === 'field' && f.part.key === `${program.recordType.key}.${field.key}`),
  );
  const limits = $derived(
    [
      field.scale === undefined ? '' : `${field.scale} decimals`,
      field.min === undefined ? '' : `from ${ownWriting(field.min)}`,
      field.max === undefined ? '' : `to ${ownWriting(field.max)}`,
      field.length === undefined ? '' : `at most ${ownWriting(field.length)} characters`,
      field.unique ? 'unique' : '',
      field.required ? 'has to be filled in' : '',
    ]
      .filter(Boolean)
      .join(', '),
  );
</script>

<article class="mx-auto max-w-[720px] pt-[18px] pr-[26px] pb-10 pl-2" aria-label="Field">
  <div class="mb-3.5 ml-[130px] max-[1100px]:ml-0">
    <div class="flex items-baseline gap-3">
      <h1 class="flex-1">{field.name}</h1>
      <a class="quiet text-small hover:text-brass" href={fieldsOf(program.recordType.key, { field: field.key })}
        >change the field</a
      >
    </div>
    {#if field.help}<p class="text-soft">{field.help}</p>{/if}
  </div>
  <SheetRow label="Type"
    >{fieldTypeOf(field).name}{#if limits}<span class="quiet ml-2">{limits}</span>{/if}</SheetRow
  >
  {#if field.options}<SheetRow label="Options">{optionList(field)}</SheetRow>{/if}
  {#each [{ label: 'Written by', rules: writers, none: 'no rule; people and programs fill it in' }, { label: 'Read by', rules: readers, none: 'no rule' }] as part, nth (nth)}
    <SheetRow label={part.label}>
      {#each part.rules as r (r.rule.key)}
        <a href={ruleAddress(r.rule.recordType, r.rule.key)} class="mr-4 inline-flex items-center gap-1.5">
          <span class="text-held"><KindMark kind={r.rule.kind} /></span><span
            class="border-b border-edge hover:border-brass">{r.rule.name}</span
          >
        </a>
      {:else}<span class="quiet">{part.none}</span>{/each}
    </SheetRow>
  {/each}
  {#if draft.editable}
    <SheetRow label="New rule"><KindChooser {draft} {field} recordType={program.recordType} /></SheetRow>
  {/if}
  <FindingList {draft} {findings} onSheet />
</article>
