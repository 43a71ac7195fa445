<script lang="ts">
  import type { FieldProps } from "./types";

  let { value, id, describedby, invalid, onchange }: FieldProps = $props();
  const list = $derived((value as string[] | null) ?? []);
  // The text keeps its commas until the field loses the focus.
  let typed = $state<string | null>(null);
  const read = (text: string) => [...new Set(text.split(",").map((t) => t.trim()).filter(Boolean))];
</script>

<input
  {id}
  class="field"
  placeholder="Clay, glaze, evening"
  value={typed ?? list.join(", ")}
  oninput={(e) => {
    typed = e.currentTarget.value;
    onchange(read(typed));
  }}
  onblur={() => (typed = null)}
  aria-describedby={describedby}
  aria-invalid={invalid}
/>
