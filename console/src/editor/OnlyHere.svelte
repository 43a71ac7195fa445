<script lang="ts">
  // The addresses and sites where a pocket shows.
  import type { Cues } from "../api/types";
  import { session } from "../session/session.svelte";
  import { router } from "../router.svelte";
  import type { PocketEditor } from "./editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const draft = $derived(editor.draft);
  const cues = $derived((draft.about.cues ?? {}) as Cues);
  const ways = [
    ["everywhere", "On every page with the snippet"],
    ["home", "Only on the home page"],
    ["some", "Only at some addresses"],
  ];
  let writing = $state(false); // addresses are selected, although there is none yet
  const way = $derived(writing ? "some" : !cues.only?.length ? "everywhere" : cues.only.length == 1 && cues.only[0] == "/" ? "home" : "some");
  const list = (text: string) => text.split("\n").map((line) => line.trim()).filter(Boolean);
  const fault = $derived(Object.values(draft.faults).find((f) => f.field?.startsWith("only/") || f.field?.startsWith("not/")));

  function set(change: Partial<Cues>) {
    const next = { ...$state.snapshot(cues), ...change };
    draft.set("pocket/cues", Object.fromEntries(Object.entries(next).filter(([, v]) => (Array.isArray(v) ? v.length : v))));
  }
  function choose(to: string) {
    writing = to == "some";
    if (to == "everywhere") set({ only: [] });
    else if (to == "home") set({ only: ["/"] });
  }
</script>

<fieldset class="border-b border-line px-5 pt-5 pb-1 last:border-0" data-path="pocket/cues">
  <legend class="float-start mb-4 w-full text-[13px] font-semibold tracking-wide text-teal">Where and when it shows</legend>
  <div class="clear-both">
    <div class="mb-5 space-y-1.5" role="radiogroup" aria-label="Where and when it shows">
      {#each ways as [value, label] (value)}
        <label class="flex items-center gap-2.5"><input type="radio" class="size-4 accent-teal" name="only-here" {value} checked={way == value} onchange={() => choose(value)} />{label}</label>
      {/each}
    </div>
    {#if way == "some"}
      <div class="mb-5">
        <label class="mb-1.5 block font-medium" for="cues-only">Show at these addresses</label>
        <textarea id="cues-only" class="field font-mono text-sm" rows="3" placeholder={"/events/*\n/workshops"} spellcheck="false" value={(cues.only ?? []).join("\n")} onchange={(e) => set({ only: list(e.currentTarget.value) })} aria-describedby="cues-only-about" aria-invalid={!!fault}></textarea>
        <p id="cues-only-about" class="mt-1.5 text-sm text-soft">One address per line, as the browser shows it. / is the home page. /events/* is that page and all pages below it. * matches any characters. You can start with a domain.</p>
      </div>
    {/if}
    <div class="mb-5">
      <label class="mb-1.5 block font-medium" for="cues-not">Do not show at these addresses</label>
      <textarea id="cues-not" class="field font-mono text-sm" rows="2" placeholder="/basket" spellcheck="false" value={(cues.not ?? []).join("\n")} onchange={(e) => set({ not: list(e.currentTarget.value) })} aria-invalid={!!fault}></textarea>
    </div>
    {#if fault}<p role="alert" class="-mt-3 mb-5 text-sm text-bad">{fault.what} {fault.fix}</p>{/if}
    <div class="mb-5">
      <label class="flex items-start gap-2.5"><input type="checkbox" class="mt-1 size-4 accent-teal" checked={!!cues.ownSites} onchange={(e) => set({ ownSites: e.currentTarget.checked, local: e.currentTarget.checked && !!cues.local })} /><span><span class="block font-medium">Only on the customer's sites</span><span class="text-sm text-soft">On other sites it shows nothing, and the browser's console says why.</span></span></label>
      {#if cues.ownSites}
        <label class="mt-2.5 ms-6.5 flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" checked={!!cues.local} onchange={(e) => set({ local: e.currentTarget.checked })} />Also on a local computer</label>
        <p class="ms-6.5 mt-1.5 text-sm text-soft">
          {#if editor.sites === undefined}{""}{:else if editor.sites.length}Sites: {editor.sites.join(", ")}.{:else}<span class="text-bad">There are no sites yet, so it would not show anywhere.</span>{/if}
          {#if editor.pocket && !session.guest}<a class="underline underline-offset-4" href={`/customers/${editor.pocket.customer}`} onclick={router.follow}>Edit sites</a>{/if}
        </p>
      {/if}
    </div>
  </div>
</fieldset>
