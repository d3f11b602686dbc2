<script lang="ts">
  import { DocumentArea } from '$lib/features/document';
</script>

<DocumentArea />
