<script lang="ts">
  /** The whole rulebook in sentences, to be read, printed and kept. */
  import { rulebookMarkdown, rulebookText } from '@rigid-rule/core/formats';
  import { useDraft } from '../draft/context.ts';

  const { draft } = useDraft();
  const blocks = $derived(rulebookText(draft.program));
  const contents = $derived(blocks.flatMap((b) => (b.block === 'heading' && b.level === 2 ? [b] : [])));

  function download() {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([rulebookMarkdown(draft.program)], { type: 'text/markdown' }));
    link.download = `${draft.rulebook.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.md`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
</script>

<svelte:head><title>{draft.rulebook.name}, as a document · Rigid Rule</title></svelte:head>

<div class="page bg-sheet">
  <div class="mx-auto max-w-[920px] px-8 pt-[18px] pb-16">
    <div class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line pb-2 print:hidden">
      <nav class="flex flex-wrap gap-x-4" aria-label="Contents">
        {#each contents as c (c.id)}<a class="text-soft hover:text-ink" href="#{c.id}">{c.text}</a>{/each}
      </nav>
      <span class="ml-auto flex gap-2">
        <button type="button" class="button" onclick={() => print()}>Print</button>
        <button type="button" class="button plain" onclick={download}>Markdown</button>
      </span>
    </div>
    <article aria-label="Rulebook">
      {#each blocks as b, i (i)}
        {#if b.block === 'heading'}
          {#if b.level === 1}<h1 id={b.id}>{b.text}</h1>
          {:else if b.level === 2}<h2 id={b.id} class="mt-9 mb-2 border-b border-ink pb-1 text-[17px] font-[650]">
              {b.text}
            </h2>
          {:else}<h3 id={b.id} class="mt-6 mb-0.5 text-[14.5px] font-[650]">{b.text}</h3>{/if}
        {:else if b.block === 'paragraph'}<p
            class={['max-w-[76ch]', b.tone === 'wrong' ? 'text-stop' : b.tone !== 'said' && 'text-soft']}
          >
            {b.text}
          </p>
        {:else if b.block === 'lines'}
          <dl class="mt-1 grid grid-cols-[130px_minmax(0,1fr)] gap-x-5 gap-y-0.5">
            {#each b.lines as [label, text], j (j)}<dt class="label text-right break-words">{label}</dt>
              <dd>{text}</dd>{/each}
          </dl>
        {:else}
          <table class="my-2 w-full border-collapse text-small">
            <thead>
              <tr class="text-left text-faint"
                >{#each b.head as h, nth (nth)}<th class="border-b border-edge py-1 pr-4 font-normal">{h}</th
                  >{/each}</tr
              >
            </thead>
            <tbody>
              {#each b.rows as row, j (j)}<tr class="align-top"
                  >{#each row as cell, k (k)}<td class={['border-b border-line py-1 pr-4', k === 0 && 'font-[650]']}
                      >{cell}</td
                    >{/each}</tr
                >{/each}
            </tbody>
          </table>
        {/if}
      {/each}
    </article>
  </div>
</div>
