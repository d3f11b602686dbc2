<script lang="ts">
  import { RecordList } from '$lib/features/records';
  const { data } = $props();
</script>

<svelte:head><title>{data.recordType.plural} · Rigid Rule</title></svelte:head>
<RecordList
  types={data.types}
  recordType={data.recordType}
  columns={data.columns}
  first={data.first}
  users={data.users}
  followUps={data.followUps}
  mayWrite={data.mayWrite}
/>
