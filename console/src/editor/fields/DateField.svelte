<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
</script>

<input {id} type={setting.control == "time" ? "time" : "date"} class="field" value={(value as string) ?? ""} oninput={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid} />
