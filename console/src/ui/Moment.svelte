<script lang="ts">
  // A wall-clock time and its zone. The value is one text, "2027-03-01T18:00[Europe/Berlin]".
  import { odd } from "./clocks";
  import Segments from "./Segments.svelte";
  import { zones } from "./zones";

  type Props = { value: string; label: string; id: string; zone?: string; seconds?: boolean; describedby?: string; invalid?: boolean; onchange: (value: string) => void; onempty?: () => void };
  let { value, label, id, zone: usual = Intl.DateTimeFormat().resolvedOptions().timeZone, seconds = false, describedby, invalid = false, onchange, onempty }: Props = $props();
  const parts = $derived(/^(.*?)(?:Z|[+-]\d\d:\d\d)?\[(.*)\]$/.exec(value));
  // While one part is missing there is no value; the other part is kept here.
  let typed = $state<{ local?: string; zone?: string }>({});
  const local = $derived(parts?.[1] ?? typed.local ?? "");
  const zone = $derived(typed.zone ?? parts?.[2] ?? usual);
  const strange = $derived(value ? odd(local, zone) : undefined);

  function change(next: { local?: string; zone?: string }) {
    typed = { local, zone, ...next };
    if (typed.local && typed.zone) onchange(`${typed.local}[${typed.zone}]`);
    else if (!typed.local) onempty?.();
    if (next.zone === undefined) typed.zone = undefined; // a new value replaces it
  }
</script>

<div class="flex flex-wrap gap-2">
  <input {id} type="datetime-local" class="field min-w-50 flex-3" step={seconds ? 1 : 60} value={local} oninput={(e) => change({ local: e.currentTarget.value })} aria-label={label} aria-describedby={describedby} aria-invalid={invalid} />
  <input class="field min-w-28 flex-2" list="{id}-zones" value={zone} oninput={(e) => change({ zone: e.currentTarget.value })} aria-label="{label}: time zone" aria-invalid={invalid} autocomplete="off" spellcheck="false" />
  <datalist id="{id}-zones">{#each zones as name (name)}<option value={name}></option>{/each}</datalist>
</div>
{#if strange && "second" in strange}
  {@const second = `${local}${strange.second}[${zone}]`}
  <p class="mt-1.5 text-sm text-warn">{local.slice(11, 16)} happens twice that night, because the clocks go back. Which one do you mean?</p>
  <div class="mt-1 w-fit"><Segments value={value == second ? "second" : "first"} label="{label}: first or second" options={[{ value: "first", label: "The first" }, { value: "second", label: "The second" }]} onchange={(v) => onchange(v == "second" ? second : `${local}[${zone}]`)} /></div>
{:else if strange}
  <p class="mt-1.5 text-sm text-warn">{local.slice(11, 16)} does not exist that night, because the clocks go forward. {strange.skipped} is used.</p>
{/if}
