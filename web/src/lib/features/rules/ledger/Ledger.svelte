<script lang="ts">
  /** The fields of a record type, one line each, with the rules that write them. */
  import { fieldTypeOf, findRuleKind, hasErrors, type TypeProgram } from '@rigid-rule/core';
  import KindMark from '$lib/ui/KindMark.svelte';

  interface Props {
    types: readonly { key: string; name: string }[];
    program: TypeProgram;
    /** Key of the field or rule that the sheet shows. */
    field: string | undefined;
    rule: string | undefined;
  }
  const { types, program, field, rule }: Props = $props();
  let filter = $state('');

  const typeKey = $derived(program.recordType.key);
  const rows = $derived(
    program.slots.map(({ field: f }, slot) => ({
      field: f,
      writers: program.rules.filter((r) => r.writes.includes(slot)),
      readers: program.rules.filter((r) => r.reads.present.includes(slot) || r.reads.previous.includes(slot)),
    })),
  );
  const shown = $derived(
    rows.filter(({ field: f, writers }) =>
      [f.name, f.label ?? '', ...writers.map((w) => w.rule.name)].some((t) =>
        t.toLowerCase().includes(filter.trim().toLowerCase()),
      ),
    ),
  );
  /** A rule's name without its target, which stands on the line above. */
  const short = (name: string, fieldName: string) =>
    name.toLowerCase().startsWith(fieldName.toLowerCase())
      ? name.slice(fieldName.length).replace(/^[\s,:]+/, '') || name
      : name;
</script>

<div class="flex h-full flex-col pt-3">
  <nav aria-label="Record types" class="flex gap-3 overflow-x-auto px-3.5 pb-2 whitespace-nowrap">
    {#each types as type (type.key)}
      <a
        href="/desk/{type.key}"
        aria-current={type.key === typeKey ? 'page' : undefined}
        class={type.key === typeKey ? 'font-[650] shadow-[0_2px_var(--ink)]' : 'text-soft hover:text-ink'}
        >{type.name}</a
      >
    {/each}
  </nav>
  <label class="mx-3.5 mb-2 flex items-center justify-between border-b border-edge py-[3px]">
    <span class="sr-only">Filter fields</span>
    <input
      id="ledger-filter"
      type="search"
      class="w-full bg-transparent"
      placeholder="Filter fields"
      bind:value={filter}
    />
    <span class="key">/</span>
  </label>
  <ul class="min-h-0 flex-1 overflow-y-auto pb-4" aria-label="Fields">
    {#each shown as { field: f, writers, readers } (f.key)}
      {@const on = f.key === field}
      <li>
        <a
          href="/desk/{typeKey}?field={f.key}"
          aria-current={on && !rule ? 'true' : undefined}
          class={[
            'grid grid-cols-[1fr_auto_auto] items-center gap-2 px-3.5 py-[3px] hover:bg-sheet',
            on && 'bg-sheet font-[650] shadow-[inset_3px_0_var(--brass)]',
          ]}
        >
          <span class="truncate"
            >{f.name}{#if f.label}<span class="quiet font-normal"> {f.label}</span>{/if}</span
          >
          <span class="text-[11.5px] text-faint">{fieldTypeOf(f).name}</span>
          <span class="flex min-w-[15px] gap-1 text-held">
            {#each writers as w (w.rule.key)}<KindMark kind={w.rule.kind} label="written by {w.rule.name}" />{/each}
            {#if writers.length === 0 && readers.length > 0}<svg
                width="15"
                height="12"
                viewBox="0 0 15 12"
                role="img"
                aria-label="read by a rule"><circle cx="7.5" cy="6" r="1.8" fill="var(--faint)" /></svg
              >{/if}
          </span>
        </a>
        {#if on || filter}
          {#each writers as w (w.rule.key)}
            <a
              href="/desk/{typeKey}/{w.rule.key}"
              aria-current={w.rule.key === rule ? 'true' : undefined}
              class={[
                'flex items-center gap-[7px] py-[3px] pr-3.5 pl-[26px] hover:text-ink',
                w.rule.key === rule ? 'bg-sheet text-ink' : 'text-soft',
              ]}
            >
              <span class="text-held"
                ><KindMark kind={w.rule.kind} label={findRuleKind(w.rule.kind)?.name ?? w.rule.kind} /></span
              >
              <span class="flex-1">{short(w.rule.name, f.name)}</span>
              {#if !w.rule.on}<span class="text-[11.5px] text-faint">off</span>{/if}
              {#if w.diagnostics.length > 0}
                <span
                  class={['inline-block size-1.5 rounded-full', hasErrors(w.diagnostics) ? 'bg-stop' : 'bg-brass']}
                  title="{w.diagnostics.length} findings"
                ></span>
              {/if}
            </a>
          {/each}
        {/if}
      </li>
    {:else}
      <li class="quiet px-3.5 py-2">No field by that name.</li>
    {/each}
  </ul>
</div>
