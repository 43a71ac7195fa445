<script lang="ts">
  // A wall-clock time and its zone; the value is one text, "2027-03-01T18:00[Europe/Berlin]".
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const zones = ["UTC", ...Intl.supportedValuesOf("timeZone")];
  const parts = $derived(/^(.*?)(?:Z|[+-]\d\d:\d\d)?\[(.*)\]$/.exec(String(value ?? "")));
  // While one half is missing there is no value yet; what was typed is kept here.
  let typed = $state<{ local?: string; zone?: string }>({});
  const local = $derived(typed.local ?? parts?.[1] ?? "");
  const zone = $derived(typed.zone ?? parts?.[2] ?? Intl.DateTimeFormat().resolvedOptions().timeZone);

  function change(next: { local?: string; zone?: string }) {
    typed = { local, zone, ...next };
    if (typed.local && typed.zone) onchange(`${typed.local}[${typed.zone}]`);
  }
</script>

<div class="grid grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)] gap-2">
  <input {id} type="datetime-local" class="field" value={local} oninput={(e) => change({ local: e.currentTarget.value })} aria-describedby={describedby} aria-invalid={invalid} />
  <input class="field" list="{id}-zones" value={zone} oninput={(e) => change({ zone: e.currentTarget.value })} aria-label="{setting.label.en}: time zone" aria-invalid={invalid} autocomplete="off" spellcheck="false" />
  <datalist id="{id}-zones">{#each zones as name (name)}<option value={name}></option>{/each}</datalist>
</div>
