<script lang="ts">
  import { parts, type FieldProps } from "./types";

  let { value, id, describedby, invalid, onchange }: FieldProps = $props();
  const now = $derived(parts(value, { address: "", target: "same" }));
</script>

<div class="space-y-2">
  <input {id} type="url" class="field" placeholder="https://…" value={now.address} oninput={(e) => onchange({ ...now, address: e.currentTarget.value.trim() })} aria-describedby={describedby} aria-invalid={invalid} />
  {#if now.address}
    <label class="flex items-center gap-2.5 text-sm">
      <input type="checkbox" class="size-4 accent-teal" checked={now.target == "new"} onchange={(e) => onchange({ ...now, target: e.currentTarget.checked ? "new" : "same" })} />
      Open in a new tab
    </label>
  {/if}
</div>
