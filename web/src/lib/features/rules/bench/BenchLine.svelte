<script lang="ts">
  /** One value on the bench, to be changed: what it was, the input, and the way back. */
  import type { Field, Stored } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { FieldInput, shownValue, type FindLinks, type Titles } from '$lib/features/fields';

  interface Props {
    id: string;
    field: Field;
    /** What was there before the try, and what is tried; absent: nothing. */
    starting: Stored;
    tried?: { readonly value: unknown } | undefined;
    commit: (value: unknown) => void;
    /** What a rule put in the place of what was tried, as people read it. */
    overruledBy?: string | undefined;
    invalid?: boolean;
    autofocus?: boolean;
    allowed?: readonly string[] | undefined;
    titles: Titles;
    users: readonly { email: string; name: string }[];
    find: FindLinks;
  }
  const {
    id,
    field,
    starting,
    tried,
    commit,
    overruledBy,
    invalid = false,
    autofocus = false,
    allowed,
    titles,
    users,
    find,
  }: Props = $props();

  /** What the input shows: what was tried, or what is stored. */
  const value = $derived.by((): Stored => {
    if (!tried) return starting;
    const coerced = fieldTypeOf(field).coerce(tried.value, field);
    return 'value' in coerced ? coerced.value : String(tried.value);
  });
</script>

<div class="bench-line" data-written={overruledBy === undefined ? undefined : field.key}>
  <label class="text-soft" for={id}>{field.name}</label>
  <span class="flex min-w-0 items-center gap-2" data-first>
    {#if tried}<span class="was">{shownValue(field, starting, titles) || 'blank'}</span>{/if}
    <FieldInput
      {id}
      {field}
      {value}
      live
      {commit}
      {invalid}
      {autofocus}
      {titles}
      {users}
      {find}
      {...allowed ? { allowed } : {}}
      class="w-[130px]"
    />
  </span>
  <span>
    {#if tried}<button type="button" class="word" aria-label="Put {field.name} back" onclick={() => commit(starting)}
        >put back</button
      >{/if}
  </span>
  {#if overruledBy !== undefined}<p class="col-span-full text-small text-soft" data-overruled>
      A rule makes it <span class="written">{overruledBy}</span>.
    </p>{/if}
</div>
