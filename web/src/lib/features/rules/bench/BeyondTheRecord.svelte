<script lang="ts">
  /** What a try would come to beyond its record: on other records, and for people who are told. */
  import type { Field, Stored } from '@rigid-rule/core/document';
  import { recordTitle } from '@rigid-rule/core/language';
  import type { Bench } from './bench.svelte.ts';

  interface Props {
    bench: Bench;
    shown: (field: Field | undefined, value: Stored) => string;
  }
  const { bench, shown }: Props = $props();
  /** What rules make of other records in the same write. */
  const followers = $derived(
    bench.transaction.followers.flatMap((f) => {
      const type = bench.program.types.get(f.recordType)?.recordType;
      return type
        ? f.settlement.changes.map((c) => ({
            key: `${f.recordType} ${f.id} ${f.wave} ${c.field}`,
            name: recordTitle(type, f.settlement.data) || type.name,
            field: type.fields.find((x) => x.key === c.field),
            from: c.from,
            to: c.to,
          }))
        : [];
    }),
  );
  const later = $derived(bench.transaction.dependants.length + bench.transaction.childWrites.length);
</script>

{#if followers.length > 0}
  <h3 class="bench-head">On other records</h3>
  {#each followers as f (f.key)}
    <div class="bench-line" data-follower>
      <span class="truncate text-soft">{f.name}</span>
      <span
        >{f.field?.name} <span class="was mr-1">{shown(f.field, f.from)}</span><span class="written"
          >{shown(f.field, f.to)}</span
        ></span
      >
    </div>
  {/each}
{/if}
{#if later > 0}<p class="quiet text-small">Records that read this one follow after the save.</p>{/if}
{#if bench.settlement.notifications.length > 0}
  <h3 class="bench-head">Would be sent</h3>
  {#each bench.settlement.notifications as n, i (i)}
    <div class="bench-line" data-notification>
      <span class="text-soft">{n.channel}</span>
      <span
        >{n.subject}
        <span class="quiet"
          >to {n.to}{#if n.due}, due {n.due}{/if}</span
        ><br /><span class="quiet whitespace-pre-line text-small">{n.body}</span></span
      >
    </div>
  {/each}
{/if}
