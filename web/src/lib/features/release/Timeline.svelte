<script lang="ts">
  /** Releases along a ruler that is true to the calendar; entries that would touch are fanned out. */
  import { releaseAddress } from '$lib/addresses.ts';
  import { ownDay, ownMoments } from '$lib/organisation.svelte.ts';
  import type { TimelineEntry } from './timeline.ts';

  interface Props {
    entries: readonly TimelineEntry[];
    /** The release that is read. */
    current?: number;
  }
  const { entries, current }: Props = $props();

  const time = $derived(ownMoments({ hour: '2-digit', minute: '2-digit' }));
  const room = 86;
  const span = 560;
  /** Newest first; each at its date, but never closer to the one above than its text needs. */
  const placed = $derived.by(() => {
    const newest = entries[0]?.at.getTime() ?? 0;
    const oldest = entries.at(-1)?.at.getTime() ?? 0;
    const scale = (t: number) => (newest === oldest ? 0 : ((newest - t) / (newest - oldest)) * span);
    let last = -room;
    return entries.map((e) => {
      const due = scale(e.at.getTime());
      last = Math.max(due, last + room);
      return { ...e, due, y: last };
    });
  });
  const height = $derived((placed.at(-1)?.y ?? 0) + room);
</script>

<div class="relative mx-3 mt-2" style:height="{height}px">
  <svg width="90" {height} class="absolute top-0 left-0" aria-hidden="true">
    <path d="M70 0V{height}" stroke="var(--ink)" stroke-width="1.3" />
    {#each Array.from({ length: Math.floor(height / 10) }, (_, i) => i) as i (i)}
      <path d="M70 {i * 10 + 5}h{i % 5 === 0 ? 8 : 4}" stroke="var(--tick)" />
    {/each}
    {#each placed as e (e.id)}
      <path
        d="M62 {e.due + 10}h8L86 {e.y + 10}"
        fill="none"
        stroke={e.live ? 'var(--brass)' : 'var(--ink)'}
        stroke-width={e.live ? 2.5 : 1.3}
      />
    {/each}
  </svg>
  <ol>
    {#each placed as e (e.id)}
      <li class="absolute right-0 left-0 grid grid-cols-[58px_1fr] gap-x-[38px]" style:top="{e.y}px">
        <span class="text-right text-small text-soft"
          >{ownDay(e.at)}<br /><span class="quiet">{time.format(e.at)}</span></span
        >
        <span class="min-w-0">
          <a
            class={[
              'font-[650]',
              e.live ? 'text-brass' : 'hover:text-brass',
              e.release === current ? 'shadow-[0_2px_var(--ink)]' : 'hover:underline',
            ]}
            aria-current={e.release === current ? 'page' : undefined}
            href={releaseAddress(e.release)}>{e.head}{e.live ? ', live' : ''}</a
          >
          <span class="line-clamp-2 text-small">{e.note}</span>
          <span class="block text-small text-soft">{e.by ?? 'the installation'}</span>
        </span>
      </li>
    {/each}
  </ol>
</div>
