<script lang="ts">
  import { attributesOf, say, type FieldInputProps } from './field-input.ts';

  const props: FieldInputProps = $props();
  /** It grows to this many lines, then scrolls. */
  const mostLines = 12;
</script>

<textarea
  {...attributesOf(props)}
  rows={Math.min(mostLines, Math.max(1, String(props.value ?? '').split('\n').length))}
  class={['box w-full min-w-0 resize-none [field-sizing:content]', props.invalid && 'border-stop', props.class]}
  style:max-height="{mostLines * 1.5}em"
  value={String(props.value ?? '')}
  onchange={(e) => say(props, e.currentTarget.value)}></textarea>
