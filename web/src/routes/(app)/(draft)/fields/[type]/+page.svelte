<script lang="ts">
  import { page } from '$app/state';
  import { FieldsArea } from '$lib/features/field-editor';
</script>

<FieldsArea typeKey={page.params.type!} fieldKey={page.url.searchParams.get('field') ?? undefined} />
