<script lang="ts">
  /** A message, written where people will see it: on its field as the form shows it. */
  import type { Diagnostic } from '@rigid-rule/core/diagnostics';
  import type { Field } from '@rigid-rule/core/document';

  interface Props {
    message: string;
    field: Field | undefined;
    severity: 'stop' | 'warn';
    label: string;
    readonly: boolean;
    diagnostics: readonly Diagnostic[];
    begin: () => void;
    change: (message: string) => void;
  }
  const { message, field, severity, label, readonly, diagnostics, begin, change }: Props = $props();
  const id = $props.id();
</script>

<div class={['form', severity]}>
  <span class="text-soft">{field?.label ?? field?.name ?? 'The record'}</span>
  <span class="quiet box">what was typed</span>
  <span></span>
  {#if readonly}<span class={severity === 'stop' ? 'text-stop' : 'text-brass-ink'}>{message}</span>{:else}
    <input
      class={['editable w-full', severity === 'stop' ? 'text-stop' : 'text-brass-ink']}
      aria-label={label}
      aria-describedby={diagnostics.length > 0 ? id : undefined}
      placeholder={'what people read here, with fields in braces: {Size class}'}
      value={message}
      onfocus={begin}
      oninput={(e) => change(e.currentTarget.value)}
    />
  {/if}
</div>
{#if diagnostics.length > 0}<p {id} class="text-small text-stop">{diagnostics[0]!.message}</p>{/if}

<style>
  .form {
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr);
    gap: 2px 8px;
    margin-top: 5px;
    padding: 5px 9px;
    border-left: 3px solid var(--stop);
    background: var(--paper);
  }
  .form.warn {
    border-color: var(--brass);
  }
  .box {
    border: 1px solid var(--line);
    font-size: 12.5px;
  }
</style>
