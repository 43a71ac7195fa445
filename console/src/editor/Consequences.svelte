<script lang="ts">
  // Which settings each value of a setting shows and hides, before it is selected. Hidden values
  // are kept.
  import type { Setting } from "../api/types";
  import { useEditor } from "./context";

  let { setting, options, value }: { setting: Setting; options: { value: unknown; label: string }[]; value: unknown } = $props();
  const editor = useEditor();
  const stands = $derived((editor.widget?.settings ?? []).filter((s) => setting.key in ((s.when as Record<string, unknown> | undefined) ?? {})));
  const with_ = (option: unknown) => stands.filter((s) => ((s.when as Record<string, unknown[]>)[setting.key] ?? []).includes(option)).map((s) => s.label.en ?? s.key);
  const rows = $derived(options.map((o) => ({ ...o, brings: with_(o.value) })));
</script>

{#if stands.length && rows.length > 1}
  <details class="mt-1.5 w-full text-sm">
    <summary class="w-fit cursor-pointer rounded text-soft hover:text-ink">Settings for each choice</summary>
    <dl class="mt-1.5 grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1">
      {#each rows as row (row.label)}
        <dt class={row.value === value ? "font-medium" : "text-soft"}>{row.label}</dt>
        <dd class={row.value === value ? "" : "text-soft"}>{row.brings.length ? row.brings.join(", ") : "no more settings"}</dd>
      {/each}
    </dl>
    <p class="mt-1.5 text-soft">Hidden settings keep their values.</p>
  </details>
{/if}
