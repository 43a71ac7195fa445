<script lang="ts">
  // Switches a colour, font or image between the pocket's own value and one of the customer's
  // brand.
  import { useEditor } from "./context";
  import type { Setting } from "../api/types";

  let { setting, value, id, onchange }: { setting: Setting; value: unknown; id: string; onchange: (value: unknown) => void } = $props();
  const editor = useEditor();
  const values = $derived(editor.brand.filter((b) => b.type == setting.type));
  const name = $derived(editor.brandName(value));
</script>

{#if values.length || name}
  <select
    class="rounded border border-transparent bg-transparent py-0.5 text-sm text-soft [text-align-last:end] hover:border-edge"
    aria-label="{setting.label.en}: own value or brand"
    value={name}
    onchange={(e) => onchange(e.currentTarget.value ? { brand: e.currentTarget.value } : editor.resolved(value))}
  >
    <option value="">own</option>
    {#each values as b (b.name)}<option value={b.name}>brand: {b.label}</option>{/each}
    {#if name && !values.some((b) => b.name == name)}<option value={name}>brand: {name} (deleted)</option>{/if}
  </select>
{/if}
{#if name}<span {id} class="sr-only">From the brand</span>{/if}
