<script lang="ts">
  import { page } from '$app/state';
  import { DryRunArea } from '$lib/features/dry-run';

  const { data } = $props();
</script>

<DryRunArea
  typeKey={page.params.type}
  mayAgree={data.mayAgree}
  mayMakeSets={data.mayMakeSets}
  mayLook={data.mayLook}
  live={data.live}
  releases={data.releases}
  sets={data.sets}
/>
