<script lang="ts">
  import { RecordForm } from '$lib/features/records';
  const { data } = $props();
</script>

<svelte:head
  ><title>New {data.recordTypes.find((t) => t.key === data.identity.recordType)?.name.toLowerCase()} · Rigid Rule</title
  ></svelte:head
>
{#key data.identity.form}<RecordForm {...data} record={null} />{/key}
