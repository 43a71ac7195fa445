<script lang="ts">
  import type { FieldProps } from "./types";

  let { value, id, describedby, invalid, onchange }: FieldProps = $props();
  const common = ["ar", "bg", "cs", "da", "de", "el", "en", "es", "et", "fi", "fr", "ga", "he", "hr", "hu", "is", "it", "ja", "ko", "lt", "lv", "nb", "nl", "pl", "pt", "pt-BR", "ro", "ru", "sk", "sl", "sr", "sv", "tr", "uk", "vi", "zh"];
  const names = new Intl.DisplayNames("en", { type: "language" });
  const list = $derived(value && !common.includes(value as string) ? [...common, value as string] : common);
</script>

<select {id} class="field" value={(value as string) ?? ""} onchange={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
  <option value="">Same as the pocket</option>
  {#each list as tag (tag)}<option value={tag}>{names.of(tag)}</option>{/each}
</select>
