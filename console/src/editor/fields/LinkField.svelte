<script lang="ts">
  import { parts, type FieldProps } from "./types";

  let { value, id, describedby, invalid, onchange }: FieldProps = $props();
  const current = $derived(parts(value, { address: "", target: "same" }));
</script>

<div class="space-y-2">
  <input {id} type="url" class="field" placeholder="https://…" value={current.address} oninput={(e) => onchange({ ...current, address: e.currentTarget.value.trim() })} aria-describedby={describedby} aria-invalid={invalid} />
  {#if current.address}
    <label class="flex items-center gap-2.5 text-sm">
      <input type="checkbox" class="size-4 accent-teal" checked={current.target == "new"} onchange={(e) => onchange({ ...current, target: e.currentTarget.checked ? "new" : "same" })} />
      Open in a new tab
    </label>
  {/if}
</div>
