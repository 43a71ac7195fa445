<script lang="ts">
  import FactsHelp from "./FactsHelp.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const shared = $derived({ id, "aria-describedby": describedby, "aria-invalid": invalid });
</script>

{#if setting.control == "lines"}
  <textarea class="field" rows="3" value={(value as string) ?? ""} oninput={(e) => onchange(e.currentTarget.value)} {...shared}></textarea>
{:else}
  <input class="field" type={setting.format == "uri" ? "url" : "text"} value={(value as string) ?? ""} oninput={(e) => onchange(e.currentTarget.value)} {...shared} />
{/if}
{#if setting.facts}<FactsHelp {id} />{/if}
