<script lang="ts">
  import Field from "../Field.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, path, faults, onchange }: FieldProps = $props();
  const current = $derived((value as Record<string, unknown> | null) ?? {});
</script>

<div role="group" aria-labelledby="{id}-label" class="border-s-2 border-line ps-4">
  {#each setting.fields ?? [] as field (field.key)}
    <Field setting={field} value={current[field.key] ?? field.default ?? null} path="{path}/{field.key}" {faults} onchange={(v) => onchange({ ...current, [field.key]: v })} />
  {/each}
</div>
