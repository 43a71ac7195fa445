<script lang="ts">
  import Moment from "../../ui/Moment.svelte";
  import type { FieldProps } from "./types";

  import { useEditor } from "../context";

  const editor = useEditor();
  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
</script>

<Moment value={String(value ?? "")} label={setting.label.en ?? ""} zone={editor.zone} {id} {describedby} {invalid} {onchange} onempty={() => !setting.required && onchange("")} />
