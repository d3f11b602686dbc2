<script lang="ts">
  import { FirstType } from '$lib/features/field-editor';
</script>

<FirstType />
