<script lang="ts">
  /** The drawn mark of a rule kind; the word stands beside it, so that shape is never alone. */
  interface Props {
    kind: string;
    label?: string;
  }
  const { kind, label }: Props = $props();

  const paths: Readonly<Record<string, string>> = {
    default: 'M7 1.8a4.2 4.2 0 1 0 .01 0M7 5a1 1 0 1 0 .01 0',
    derive: 'M1 2c5 0 5 8 7 8M1 10c5 0 5-8 7-8M8 6h6',
    categorize: 'M1 10.5h13M2 10V4M5 10V7M8 10V2M11 10V7M14 10V4',
    validate: 'M2 2h10v8H2zM4.5 6l2 2 3.5-4',
    map: 'M3 1a2 2 0 1 0 .01 0M12 7a2 2 0 1 0 .01 0M5 4l5 4',
  };
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
  <path d={paths[kind] ?? paths['default']} />
</svg>
