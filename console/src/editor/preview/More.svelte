<script lang="ts">
  // The other conditions: visitor, date and time, language, amount of content.
  import Moment from "../../ui/Moment.svelte";
  import FactsHelp from "../fields/FactsHelp.svelte";
  import Segments from "../../ui/Segments.svelte";
  import { contents, languageNames, pages, visitors, zoneOf } from "../conditions";
  import { isList } from "../made";
  import type { PocketEditor } from "../editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const sight = $derived(editor.sight);
  const c = $derived(sight.conditions);
  const widget = $derived(editor.widget!);
  const lists = $derived(widget.settings.some(isList));
  // Shortly before each moment in the widget's settings.
  const soon = $derived(widget.settings.filter((s) => s.type == "moment" && editor.matters(s) && editor.value(s.key)).map((s) => ({ label: s.label.en ?? s.key, moment: String(editor.value(s.key)) })));

  function before(moment: string, seconds: number) {
    const at = Date.parse(moment.slice(0, moment.indexOf("[")).replace(/(Z|[+-]\d\d:\d\d)$/, "") + "Z");
    if (isNaN(at)) return;
    sight.see({ moment: `${new Date(at - seconds * 1000).toISOString().slice(0, 19)}[${zoneOf(moment)}]`, frozen: undefined });
  }
</script>

<div class="space-y-4">
  <div class="sm:hidden">
    <label class="mb-1.5 block font-medium" for="see-page">Sample page</label>
    <select id="see-page" class="field" value={c.page || "light"} onchange={(e) => sight.see({ page: e.currentTarget.value == "light" ? undefined : e.currentTarget.value })}>
      {#each pages as [value, label] (value)}<option {value}>{label}</option>{/each}
    </select>
    <button type="button" class="mt-2 rounded text-sm underline underline-offset-4" onclick={() => sight.draw(true)}>Play again from the start</button>
  </div>
  <div>
    <p id="see-visitor" class="mb-1.5 font-medium">Visitor</p>
    <Segments value={c.visitor ?? ""} labelledby="see-visitor" options={visitors.map(([value, label]) => ({ value, label }))} onchange={(v) => sight.see({ visitor: v || undefined })} />
    <p class="mt-1.5 text-sm text-soft">{c.visitor == "returning" ? "They came ten minutes ago, saw the widget, and closed it." : c.visitor == "new" ? "It opens on the same conditions as on a page." : "It is shown opened, so that you can edit it."}</p>
    <label class="mt-2.5 flex items-center gap-2.5 text-sm"><input type="checkbox" class="size-4 accent-teal" checked={!!c.still} onchange={(e) => sight.see({ still: e.currentTarget.checked || undefined })} />Prefers reduced motion</label>
  </div>
  {#if widget.facts.length}
    <div>
      <p class="font-medium">Facts that the page states</p>
      <FactsHelp id="see-facts" />
    </div>
  {/if}
  <div>
    <label class="mb-1.5 block font-medium" for="see-moment">When</label>
    <Moment value={c.moment ?? ""} label="Date and time" id="see-moment" seconds onchange={(moment) => sight.see({ moment })} onempty={() => sight.see({ moment: undefined, frozen: undefined })} />
    <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1.5 text-sm">
      <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" checked={!!c.frozen} disabled={!c.moment} onchange={(e) => sight.see({ frozen: e.currentTarget.checked || undefined })} />Stop the clock</label>
      {#if c.moment}<button type="button" class="rounded underline underline-offset-4" onclick={() => sight.see({ moment: undefined, frozen: undefined })}>Use the present time</button>{/if}
    </div>
    {#each soon as { label, moment } (label)}
      <p class="mt-2 text-sm text-soft">
        {label}:
        {#each [["10 seconds before", 10], ["an hour before", 3600], ["a minute after", -60]] as [words, seconds] (words)}
          <button type="button" class="me-2 rounded text-ink underline underline-offset-4" onclick={() => before(moment, seconds as number)}>{words}</button>
        {/each}
      </p>
    {/each}
  </div>
  {#if lists}
    <div>
      <p id="see-content" class="mb-1.5 font-medium">Amount of content</p>
      <Segments value={c.content ?? ""} labelledby="see-content" options={contents.map(([value, label]) => ({ value, label }))} onchange={(v) => sight.see({ content: v || undefined })} />
    </div>
  {/if}
  <div>
    <label class="mb-1.5 block font-medium" for="see-language">Language</label>
    <select id="see-language" class="field" value={c.language ?? ""} onchange={(e) => sight.see({ language: e.currentTarget.value || undefined })}>
      <option value="">The pocket's language</option>
      {#each widget.languages as language (language)}<option value={language}>{languageNames.of(language)}</option>{/each}
    </select>
    <label class="mt-2.5 flex items-center gap-2.5 text-sm"><input type="checkbox" class="size-4 accent-teal" checked={!!c.turned} onchange={(e) => sight.see({ turned: e.currentTarget.checked || undefined })} />Right-to-left text</label>
  </div>
</div>
