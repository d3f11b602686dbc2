<script lang="ts">
  /** A formula, condition or template, written with help; its type and its mistakes stand below it as it is typed. */
  import type { Diagnostic } from '@rigid-rule/core/diagnostics';
  import { createFormula, typeName, type Scope, type Type, type Variable } from '@rigid-rule/core/language';
  import { onMount, untrack } from 'svelte';
  import type { CodeEditor } from './code-editor.ts';

  interface Props {
    text: string;
    label: string;
    scope: Scope;
    variables?: readonly Variable[];
    template?: boolean;
    placeholder?: string;
    readonly?: boolean;
    diagnostics?: readonly Diagnostic[];
    /** Says what type the formula has. */
    typed?: boolean;
    autofocus?: boolean;
    change: (text: string) => void;
    /** A visit to the editor begins: what is typed until the next is one step of undo. */
    begin?: () => void;
  }
  const {
    text,
    label,
    scope,
    variables = [],
    template = false,
    placeholder = '',
    readonly = false,
    diagnostics = [],
    typed = false,
    autofocus = false,
    change,
    begin = () => undefined,
  }: Props = $props();

  const id = $props.id();
  let host = $state<HTMLElement>();
  let editor = $state.raw<CodeEditor>();
  const type = $derived(
    typed && !template && text.trim() !== '' && diagnostics.length === 0
      ? said(createFormula(text, scope, variables).type)
      : '',
  );

  function said(given: Type): string {
    return given.kind === 'any' ? 'type not known until it runs' : `gives ${typeName(given)}`;
  }

  onMount(() => {
    if (readonly) return;
    let gone = false;
    void import('./code-editor.ts').then(({ createCodeEditor }) => {
      if (gone || !host) return;
      editor = createCodeEditor({
        parent: host,
        text,
        label,
        placeholder,
        context: () => ({ scope, variables, template }),
        change: (now) => change(now),
        begin: () => begin(),
      });
      if (autofocus) editor.focus();
    });
    return () => {
      gone = true;
      editor?.destroy();
    };
  });
  $effect(() => editor?.show(text));
  $effect(() => {
    void [scope, variables];
    untrack(() => editor?.refresh());
  });
  $effect(() => editor?.mark(diagnostics, diagnostics.length > 0 ? `${id}-said` : undefined));
</script>

{#if readonly}
  <span class="font-mono text-small">{text || placeholder || 'nothing'}</span>
{:else}
  <div bind:this={host} class={['formula', diagnostics.some((d) => d.severity === 'error') && 'stopped']}>
    {#if !editor}<span class="quiet font-mono text-small">{text || placeholder}</span>{/if}
  </div>
{/if}
{#if diagnostics.length > 0}
  <ul id="{id}-said" class="mt-0.5 text-small text-stop">
    {#each diagnostics as d, i (i)}
      <li>
        {d.message}{#if d.range.to > d.range.from}<span class="quiet"> at character {d.range.from + 1}</span>{/if}
      </li>
    {/each}
  </ul>
{:else if type}<p class="mt-0.5 text-small text-faint">{type}</p>{/if}

<style>
  .formula {
    border-bottom: 1.5px solid var(--brass);
    min-height: 21px;
  }
  .formula.stopped {
    border-color: var(--stop);
  }
  .formula :global {
    .cm-editor {
      background: transparent;
    }
    .cm-editor.cm-focused {
      outline: 2px solid var(--brass);
      outline-offset: 2px;
    }
    .cm-scroller {
      font: 400 12.5px/19px var(--font-mono);
    }
    .cm-content {
      padding: 0;
      caret-color: var(--ink);
      color: var(--ink);
    }
    .cm-line {
      padding: 0 1px;
    }
    .cm-placeholder {
      color: var(--faint);
    }
    .tok-function {
      color: var(--held);
    }
    .tok-text {
      color: var(--ok);
    }
    .tok-number {
      color: var(--brass-ink);
    }
    .tok-keyword {
      font-weight: 650;
    }
    .tok-comment {
      color: var(--faint);
      font-style: italic;
    }
    .wrong {
      text-decoration: underline wavy var(--stop) 1px;
      text-underline-offset: 3px;
    }
  }
  :global(.cm-tooltip) {
    border: 1px solid var(--edge) !important;
    background: var(--field) !important;
    color: var(--ink);
    z-index: 40;
  }
  :global(.cm-tooltip-hover > div) {
    padding: 5px 9px;
    max-width: 380px;
    font-size: 12.5px;
  }
  :global(.cm-tooltip-autocomplete > ul) {
    font: 400 12.5px/20px var(--font-sans) !important;
    max-height: 240px !important;
  }
  :global(.cm-tooltip-autocomplete > ul > li) {
    display: flex;
    gap: 12px;
    justify-content: space-between;
    padding: 1px 8px !important;
  }
  :global(.cm-tooltip-autocomplete > ul > li[aria-selected]) {
    background: var(--brass-wash) !important;
    color: var(--ink) !important;
  }
  :global(.cm-completionDetail) {
    color: var(--faint);
    font-style: normal !important;
    max-width: 260px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  :global(.cm-completionMatchedText) {
    text-decoration: none !important;
    font-weight: 650;
  }
  :global(.cm-completionInfo) {
    padding: 5px 9px !important;
    max-width: 300px;
    font-size: 12.5px;
  }
</style>
