<script lang="ts">
  import { page } from '$app/state';
  import { MappingsArea } from '$lib/features/mappings';
</script>

<MappingsArea tableKey={page.params.table} />
