<script lang="ts">
  /** All rules of a record type against what there is to reach in them, a cell each: the empty ones catch the eye. */
  import { testsAddress } from '$lib/addresses.ts';
  import type { TypeProgram } from '@rigid-rule/core/compile';
  import type { CellReach } from '@rigid-rule/core/rule-tests';
  import { scaleBand } from 'd3-scale';
  import { useDraft } from '../draft/context.ts';

  interface Props {
    program: TypeProgram;
  }
  const { program }: Props = $props();
  const { draft } = useDraft();
  const allKinds = ['branch', 'part', 'entry'] as const;
  /** What no rule of the type has takes no room. */
  const kinds = $derived(
    allKinds.filter((k) =>
      program.rules.some(({ rule }) =>
        draft.coverage?.rules.find((r) => r.rule === rule.key)?.cells.some((c) => c.kind === k),
      ),
    ),
  );
  const names = { branch: 'branches', part: 'condition parts', entry: 'entry points' };
  const rows = $derived(
    program.rules.flatMap(({ rule }) => {
      const own = draft.coverage?.rules.find((r) => r.rule === rule.key);
      return own ? [{ rule, cells: kinds.map((k) => own.cells.filter((c) => c.kind === k)), rows: own.rows }] : [];
    }),
  );
  const most = $derived(kinds.map((_, k) => Math.max(0, ...rows.map((r) => r.cells[k]!.length))));
  const cell = 15;
  /** Room for the name of a column. */
  const narrowest = 92;
  const y = $derived(
    scaleBand(
      rows.map((r) => r.rule.key),
      [0, rows.length * 26],
    )
      .paddingInner(0.2)
      .paddingOuter(0.1),
  );
  const starts = $derived(most.reduce<number[]>((s, n) => [...s, s.at(-1)! + Math.max(n * cell, narrowest) + 26], [0]));
  const fill = (c: CellReach) => (c.state === 'reached' ? 'var(--ok)' : 'var(--sheet)');
  const stroke = (c: CellReach) =>
    c.state === 'reached' ? 'var(--ok)' : c.state === 'not reached' ? 'var(--stop)' : 'var(--edge)';
  const missing = $derived(
    rows.reduce((n, r) => n + r.cells.flat().filter((c) => c.state === 'not reached').length, 0),
  );
</script>

<h1>What the tests of {program.recordType.plural} reach</h1>
<p class="mb-4 text-soft">
  {!draft.coverage
    ? 'Being worked out …'
    : missing === 0
      ? 'Everything that can be reached is.'
      : `${missing} ${missing === 1 ? 'place is' : 'places are'} not reached yet: each leads to the test that would.`}
</p>
{#if rows.length > 0}
  <div class="overflow-x-auto">
    <div class="grid grid-cols-[minmax(180px,max-content)_max-content] gap-x-4">
      <div></div>
      <svg width={starts.at(-1)} height="20" aria-hidden="true">
        {#each kinds as k, i (k)}<text x={starts[i]} y="13" font-size="12.5" fill="var(--soft)">{names[k]}</text>{/each}
      </svg>
      <ul class="min-w-0">
        {#each rows as r (r.rule.key)}
          <li class="truncate leading-[26px]" style:height="26px">
            <a class="hover:text-brass" href={testsAddress(r.rule.recordType, r.rule.key)}>{r.rule.name}</a>
          </li>
        {/each}
      </ul>
      <svg
        width={starts.at(-1)}
        height={rows.length * 26}
        role="img"
        aria-label="Reached and not reached, rule by rule"
      >
        {#each rows as r (r.rule.key)}
          {#each kinds as k, i (k)}
            {#each r.cells[i]! as c, at (at)}
              <a href={testsAddress(r.rule.recordType, r.rule.key)} tabindex="-1" aria-hidden="true">
                <rect
                  x={starts[i]! + at * cell}
                  y={y(r.rule.key)! + 3}
                  width={cell - 3}
                  height={cell - 3}
                  fill={fill(c)}
                  stroke={stroke(c)}
                  stroke-width="1.4"
                  stroke-dasharray={c.state === 'cannot be reached' ? '2 2' : undefined}
                  ><title>{r.rule.name}: {c.text}, {c.state}</title></rect
                >
              </a>
            {/each}
          {/each}
        {/each}
      </svg>
    </div>
  </div>
  <p class="mt-3 flex gap-4 text-small text-soft">
    <span><span class="mr-1 inline-block size-[9px] bg-ok"></span>reached</span>
    <span><span class="mr-1 inline-block size-[9px] border-[1.5px] border-stop"></span>not reached</span>
    <span><span class="mr-1 inline-block size-[9px] border border-dashed border-edge"></span>cannot be reached</span>
  </p>
{/if}
