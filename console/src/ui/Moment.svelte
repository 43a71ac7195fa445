<script lang="ts">
  // A wall-clock time and its zone; the value is one text, "2027-03-01T18:00[Europe/Berlin]".
  type Props = { value: string; label: string; id: string; zone?: string; seconds?: boolean; describedby?: string; invalid?: boolean; onchange: (value: string) => void; onempty?: () => void };
  let { value, label, id, zone: usual = Intl.DateTimeFormat().resolvedOptions().timeZone, seconds = false, describedby, invalid = false, onchange, onempty }: Props = $props();
  const zones = ["UTC", ...Intl.supportedValuesOf("timeZone")];
  const parts = $derived(/^(.*?)(?:Z|[+-]\d\d:\d\d)?\[(.*)\]$/.exec(value));
  // While one half is missing there is no value yet; what was typed is kept here.
  let typed = $state<{ local?: string; zone?: string }>({});
  const local = $derived(parts?.[1] ?? typed.local ?? "");
  const zone = $derived(typed.zone ?? parts?.[2] ?? usual);

  function change(next: { local?: string; zone?: string }) {
    typed = { local, zone, ...next };
    if (typed.local && typed.zone) onchange(`${typed.local}[${typed.zone}]`);
    else if (!typed.local) onempty?.();
    if (next.zone === undefined) typed.zone = undefined; // what comes from elsewhere counts again
  }
</script>

<div class="grid grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)] gap-2">
  <input {id} type="datetime-local" class="field" step={seconds ? 1 : 60} value={local} oninput={(e) => change({ local: e.currentTarget.value })} aria-describedby={describedby} aria-invalid={invalid} />
  <input class="field" list="{id}-zones" value={zone} oninput={(e) => change({ zone: e.currentTarget.value })} aria-label="{label}: time zone" aria-invalid={invalid} autocomplete="off" spellcheck="false" />
  <datalist id="{id}-zones">{#each zones as name (name)}<option value={name}></option>{/each}</datalist>
</div>
