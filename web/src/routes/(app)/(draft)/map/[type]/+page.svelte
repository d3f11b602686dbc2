<script lang="ts">
  import { page } from '$app/state';
  import { MapArea } from '$lib/features/map';
</script>

<MapArea typeKey={page.params.type!} fieldKey={page.url.searchParams.get('field') ?? undefined} />
