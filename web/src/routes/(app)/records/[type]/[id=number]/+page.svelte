<script lang="ts">
  import { RecordForm } from '$lib/features/records';
  const { data } = $props();
</script>

<svelte:head
  ><title
    >{data.recordTypes.find((t) => t.key === data.identity.recordType)?.name}
    {data.record.id} · Rigid Rule</title
  ></svelte:head
>
{#key `${data.identity.recordType}/${data.record.id}/${data.identity.form}`}
  <RecordForm {...data} />
{/key}
