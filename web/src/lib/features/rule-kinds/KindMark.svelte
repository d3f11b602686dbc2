<script lang="ts">
  /** The drawn mark of a rule kind; the word stands beside it, so that shape is never alone. */
  import { kindFace } from './faces.ts';

  interface Props {
    kind: string;
    label?: string;
  }
  const { kind, label }: Props = $props();

  const path = $derived(kindFace(kind)?.mark ?? '');
</script>

<svg
  width="15"
  height="12"
  viewBox="0 0 15 12"
  fill="none"
  stroke="currentColor"
  stroke-width="1.3"
  role={label ? 'img' : undefined}
  aria-label={label}
  aria-hidden={label ? undefined : 'true'}
  class="inline-block shrink-0"
>
  <path d={path} />
</svg>
