<script lang="ts">
  /** The cases of a family: what comes in above, what comes out below, and whether it did; entry points in one line. */
  import FirstOf from '$lib/ui/FirstOf.svelte';
  import { shownValue } from '../fields';
  import type { TypeProgram } from '@rigid-rule/core/compile';
  import type { RuleTest } from '@rigid-rule/core/document';
  import type { TestLineResult } from '$lib/workers/analysis.ts';

  interface Props {
    test: RuleTest;
    program: TypeProgram;
    lines: readonly TestLineResult[];
  }
  const { test, program, lines }: Props = $props();
  const cases = $derived(test.family?.cases);
  const field = (key: string) => program.recordType.fields.find((f) => f.key === key);
  const shown = (key: string, value: unknown) => {
    const own = field(key);
    return value === null || value === undefined
      ? 'blank'
      : own
        ? shownValue(own, value as never) || 'blank'
        : String(value);
  };
  const bad = (i: number) => (lines[i]?.failures.length ?? 0) > 0;
  /** Long lists stand as rows, short ones as columns, as on a ruler. */
  const wide = $derived(
    (cases?.rows.length ?? 0) <= 12 && (cases?.sent.length ?? 0) + (cases?.expected.length ?? 0) <= 4,
  );
</script>

{#if cases && wide}
  <div class="overflow-x-auto">
    <table class="w-full">
      <tbody>
        {#each [...cases.sent, ...cases.expected] as key, c (c)}
          <tr class="border-b border-line">
            <th scope="row" class="py-[3px] pr-3 text-left font-normal whitespace-nowrap text-soft"
              >{field(key)?.name ?? key} {c < cases.sent.length ? (test.before ? 'becomes' : 'is') : 'is then'}</th
            >
            {#each cases.rows as row, i (i)}
              <td class={['px-1 text-right', bad(i) && 'text-stop', c >= cases.sent.length && bad(i) && 'font-[650]']}
                >{shown(key, row[c])}</td
              >
            {/each}
          </tr>
        {/each}
        <tr>
          <th scope="row" class="py-[3px] pr-3 text-left font-normal text-soft">came out</th>
          {#each cases.rows as _, i (i)}
            <td class={['px-1 text-right', bad(i) && 'font-[650] text-stop']}
              >{#if bad(i)}fails{:else if lines[i]}<span class="inline-block size-[7px] rounded-full bg-ok"
                  ><span class="sr-only">holds</span></span
                >{/if}</td
            >
          {/each}
        </tr>
      </tbody>
    </table>
  </div>
{:else if cases}
  <div class="max-h-[300px] overflow-y-auto">
    <table class="w-full">
      <thead class="sticky top-0 bg-sheet">
        <tr class="border-b border-ink">
          {#each [...cases.sent, ...cases.expected] as key, nth (nth)}
            <th scope="col" class="py-[3px] pr-3 text-left font-normal text-soft">{field(key)?.name ?? key}</th>
          {/each}
          <th scope="col" class="text-right font-normal text-soft">came out</th>
        </tr>
      </thead>
      <tbody>
        {#each cases.rows as row, i (i)}
          <tr class={['border-b border-line', bad(i) && 'text-stop']}>
            {#each [...cases.sent, ...cases.expected] as key, c (c)}<td class="py-[2px] pr-3">{shown(key, row[c])}</td
              >{/each}
            <td class="text-right"
              >{#if bad(i)}fails{:else if lines[i]}<span class="inline-block size-[7px] rounded-full bg-ok"
                  ><span class="sr-only">holds</span></span
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}
{#if test.family?.entryPoints && !cases}
  <p class="flex flex-wrap gap-x-3.5 gap-y-0.5 py-[3px]">
    {#each test.family.entryPoints as way, i (i)}
      <span class={bad(i) ? 'text-stop' : 'text-soft'}
        ><span
          class={['mr-1 inline-block size-[7px] rounded-full', bad(i) ? 'border border-stop' : 'bg-ok']}
          aria-hidden="true"
        ></span>{program.entryPoints.get(way)?.name ?? way}{#if bad(i)}<span class="sr-only"> fails</span>{/if}</span
      >
    {/each}
  </p>
{/if}
<FirstOf items={lines.filter((l) => l.failures.length > 0)} most={3} what="failing cases">
  {#snippet item(l)}<p class="my-1 border-l-[3px] border-stop bg-stop-wash px-3 py-1.5">
      {#if test.family}<b class="font-[650]">{l.name.slice(test.name.length + 2)}.</b>{/if}
      {l.failures.join(' ')}
    </p>{/snippet}
</FirstOf>
