<script lang="ts">
  import table from "../../../../internal/setting/css.json";
  import AssetPicker from "../assets/AssetPicker.svelte";
  import { useEditor } from "../context";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const names: Record<string, string> = { plain: "Plain", book: "Book", engraved: "Engraved", narrow: "Narrow", round: "Round", typed: "Typed" };
  const stacks = Object.keys(table.font.names);
  const own = $derived(typeof value == "string" && !stacks.includes(value) && value != "inherit" ? value : "");
</script>

<div class="space-y-2">
  <select {id} class="field" value={own ? "own" : (value as string)} onchange={(e) => e.currentTarget.value != "own" && onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
    <option value="inherit">The page's own</option>
    {#each stacks as stack (stack)}<option value={stack} style:font-family={(table.font.names as Record<string, string>)[stack]}>{names[stack] ?? stack}</option>{/each}
    {#if own}<option value="own">{editor.library.name(own)}</option>{/if}
  </select>
  <AssetPicker kind="font" label={setting.label.en} chosen={own} choose={onchange} words="Use a font of one's own" />
</div>
