<script lang="ts">
  /** What has to be put right before a release, and what else is known. */
  import { findingsPath } from '$lib/addresses.ts';
  import { ownWriting } from '$lib/organisation.svelte.ts';

  interface Props {
    data: {
      readonly blocking: readonly {
        readonly sentence: string;
        readonly place: { readonly name: string; readonly href: string };
      }[];
      /** Why this is not known. */
      readonly late: string | undefined;
      readonly tests: number;
      readonly failing: readonly { readonly name: string; readonly failures: readonly string[] }[];
      readonly open: number;
    };
  }
  const { data }: Props = $props();
</script>

<dl>
  <div class="check-line">
    <dt>To put right first</dt>
    <dd class={data.blocking.length > 0 || data.late ? 'text-stop' : 'text-ok'}>
      {data.late ?? (data.blocking.length === 0 ? 'nothing' : ownWriting(data.blocking.length))}
    </dd>
  </div>
</dl>
{#each data.blocking as f, nth (nth)}
  <p class="pb-1 text-small">
    <a class="editable" href={f.place.href}>{f.place.name}</a>{f.sentence.startsWith(f.place.name)
      ? f.sentence.slice(f.place.name.length)
      : `: ${f.sentence}`}
  </p>
{/each}
<dl>
  <div class="check-line">
    <dt>Tests</dt>
    <dd class={data.failing.length > 0 ? 'text-stop' : 'text-ok'}>
      {data.tests === 0
        ? 'none kept'
        : data.failing.length === 0
          ? `all ${ownWriting(data.tests)} hold`
          : `${ownWriting(data.failing.length)} of ${ownWriting(data.tests)} fail`}
    </dd>
  </div>
</dl>
{#each data.failing as test, nth (nth)}
  <p class="pb-1 text-small"><b class="font-[650]">{test.name}</b> {test.failures.join(' ')}</p>
{/each}
<dl>
  <div class="check-line">
    <dt>Other findings</dt>
    <dd class={data.open > 0 ? 'text-brass-ink' : 'text-ok'}>
      {#if data.open === 0}none{:else}<a class="editable" href={findingsPath}>{ownWriting(data.open)} open</a>{/if}
    </dd>
  </div>
</dl>
