<script lang="ts">
  import AssetPicker from "../assets/AssetPicker.svelte";
  import { useEditor } from "../context";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, describedby, onchange }: FieldProps = $props();
  const editor = useEditor();
  const current = $derived(parts(value, { asset: "" }));
</script>

<div role="group" aria-labelledby="{id}-label" aria-describedby={describedby} class="space-y-2">
  {#if current.asset}<audio controls preload="none" class="w-full" src={editor.library.address(current.asset)}></audio>{/if}
  <div class="flex gap-2">
    <AssetPicker kind="sound" label={setting.label.en} chosen={current.asset} choose={(asset) => onchange({ asset })} words={current.asset ? "Choose another" : "Choose a sound"} />
    {#if current.asset}<button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => onchange({ asset: "" })}>Clear</button>{/if}
  </div>
</div>
