<script lang="ts">
  import { FindingsArea } from '$lib/features/findings';
</script>

<FindingsArea />
