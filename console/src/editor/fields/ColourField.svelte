<script lang="ts">
  import Colour from "../../ui/Colour.svelte";
  import { useEditor } from "../context";
  import { contrast } from "../contrast";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const on = $derived(setting.on ? String(editor.resolved(editor.value(setting.on))) : "");
  const ratio = $derived(on ? contrast(String(value), on) : 0);
  const other = $derived(editor.widget?.settings.find((s) => s.key == setting.on)?.label.en ?? setting.on);
</script>

<Colour value={String(value ?? "")} label={setting.label.en} {id} {describedby} {invalid} {onchange} />
{#if ratio > 0 && ratio < 4.5}
  <p class="mt-1.5 text-sm text-warn" role="status">Hard to read on “{other}”: the contrast is {ratio.toFixed(1)}, and text needs 4.5.</p>
{/if}
