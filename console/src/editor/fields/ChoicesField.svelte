<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, onchange }: FieldProps = $props();
  const chosen = $derived((value as string[] | null) ?? []);
  const toggle = (option: string, on: boolean) => onchange((setting.options ?? []).map((o) => o.value).filter((v) => (v == option ? on : chosen.includes(v))));
</script>

<div role="group" aria-labelledby="{id}-label" aria-describedby={describedby} class="grid grid-cols-2 gap-x-4 gap-y-1.5">
  {#each setting.options ?? [] as option (option.value)}
    <label class="flex items-center gap-2.5">
      <input type="checkbox" class="size-4 shrink-0 accent-teal" checked={chosen.includes(option.value)} onchange={(e) => toggle(option.value, e.currentTarget.checked)} />
      <span>{option.label.en ?? option.value}</span>
    </label>
  {/each}
</div>
