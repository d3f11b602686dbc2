<script lang="ts">
  /** `name`: what it is, for tests. */
  const { says, secret, name }: { readonly says: string; readonly secret: string; readonly name: string } = $props();
</script>

<div class="mb-4 border-l-[3px] border-brass bg-brass-wash px-3 py-2" role="status">
  <p>{says}</p>
  <p class="font-mono text-small break-all select-all" data-testid={name}>{secret}</p>
</div>
