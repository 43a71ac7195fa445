<script lang="ts">
  import { RadioGroup } from "bits-ui";
  import Segments from "../../ui/Segments.svelte";
  import { useEditor } from "../context";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const options = $derived((setting.options ?? []).map((o) => ({ value: o.value, label: o.label.en ?? o.value, image: o.image })));
</script>

{#if setting.control == "segments"}
  <Segments value={value as string} {options} labelledby="{id}-label" {onchange} />
{:else if setting.control == "images"}
  <RadioGroup.Root value={value as string} onValueChange={onchange} aria-labelledby="{id}-label" aria-describedby={describedby} class="grid grid-cols-3 gap-2">
    {#each options as option (option.value)}
      <RadioGroup.Item value={option.value} class="rounded-lg border border-line p-1.5 text-sm text-soft hover:border-edge data-[state=checked]:border-teal data-[state=checked]:bg-wash data-[state=checked]:text-ink">
        <img src={editor.widget?.images[option.image ?? ""]?.address} alt="" class="aspect-[4/3] w-full rounded object-contain" />
        <span class="mt-1 block truncate">{option.label}</span>
      </RadioGroup.Item>
    {/each}
  </RadioGroup.Root>
{:else}
  <select {id} class="field" value={value as string} onchange={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
    {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
  </select>
{/if}
