<script lang="ts">
  import { RecordForm } from '$lib/features/records';
  const { data } = $props();
</script>

<svelte:head
  ><title>{data.rulebook.recordTypes.find((t) => t.key === data.typeKey)?.name} {data.record.id} · Rigid Rule</title
  ></svelte:head
>
{#key `${data.typeKey}/${data.record.id}/${data.formName}`}
  <RecordForm {...data} />
{/key}
