<script lang="ts">
  import AssetPicker from "../assets/AssetPicker.svelte";
  import { fontLabels, fontStacks } from "../../ui/fonts";
  import { useEditor } from "../context";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const own = $derived(typeof value == "string" && !(value in fontStacks) && value != "inherit" ? value : "");
</script>

<div class="space-y-2">
  <select {id} class="field" value={own ? "own" : (value as string)} onchange={(e) => e.currentTarget.value != "own" && onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
    <option value="inherit">Same as the page</option>
    {#each Object.entries(fontLabels) as [stack, words] (stack)}<option value={stack} style:font-family={fontStacks[stack]}>{words}</option>{/each}
    {#if own}<option value="own">{editor.library.name(own)}</option>{/if}
  </select>
  <AssetPicker kind="font" label={setting.label.en} chosen={own} choose={onchange} words="Upload a font" />
</div>
