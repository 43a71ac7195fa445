<script lang="ts">
  import Moment from "../../ui/Moment.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
</script>

<Moment value={String(value ?? "")} label={setting.label.en ?? ""} {id} {describedby} {invalid} {onchange} onempty={() => !setting.required && onchange("")} />
