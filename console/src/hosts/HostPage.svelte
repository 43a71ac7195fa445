<script lang="ts">
  // A host profile, the lab's results, and the operator's own version.
  import { api } from "../api/client";
  import { Refused, explain } from "../api/refused";
  import type { Fault, HostProfile, Profile } from "../api/types";
  import { shows } from "../install/install.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { ownOf, stepOf, type OwnStep } from "./own";

  const wheres = ["new", "existing", "page", "site", "column", "home"];
  let { name, words }: { name: string; words: Record<string, string> } = $props();
  let found = $state.raw<HostProfile | null>(null);
  let edited = $state<Profile | null>(null);
  let error = $state<Error | null>(null);
  let trouble = $state("");
  let faults = $state<Fault[]>([]);
  let notice = $state("");
  let editing = $state(false);
  let stamp = $state(0); // version of the images, so that a new one shows

  // Steps are objects while they are edited.
  const opened = (host: Profile): Profile => ({ ...structuredClone(host), places: structuredClone(host.places).map((p) => ({ ...p, steps: Object.fromEntries(Object.entries(p.steps).map(([w, list]) => [w, list.map(stepOf)])) })) });
  async function load() {
    error = null;
    try {
      found = await api.host(name);
      edited = opened(found.host);
    } catch (e) {
      session.expire(e);
      error = e as Error;
    }
  }
  load();
  const proved = $derived([...new Set(found?.proved.map((p) => p.delivery) ?? [])].map((delivery) => ({ delivery, countdown: found!.proved.find((p) => p.delivery == delivery && p.widget == "countdown")?.shows, popup: found!.proved.find((p) => p.delivery == delivery && p.widget == "popup")?.shows })));
  const inWords = (outcome = "") => (outcome ? outcome.replace(/[a-z]+$/, (w) => shows[w] ?? w) : "–");
  const takes = (t: Profile["places"][number]["takes"]) =>
    t.as != "markup"
      ? ({ text: "shows text as typed", markdown: "Markdown, without HTML", address: "an address only", file: `source files (${t.components?.join(", ")})`, policy: "the pages' content policy" }[t.as] ?? t.as)
      : [t.boxed ? "in the host's own frame" : ({ run: "scripts run", drop: "scripts removed", hold: "scripts wait until allowed", move: "scripts moved", inert: "scripts never run" }[t.scripts] ?? t.scripts), { keep: "frames kept", fence: "frames sandboxed", still: "frames without scripts", drop: "frames removed" }[t.frames], t.attributes == "drop" && "unknown attributes removed", t.styles == "drop" && "styles removed", t.xml && "well-formed XML", t.most && `at most ${t.most} characters`].filter(Boolean).join(" · ");

  async function save() {
    trouble = "";
    faults = [];
    try {
      // Compared with the built-in profile, because an earlier version is part of what is edited.
      const base = found!.ours ? await shipped() : null;
      found = await api.saveHost(name, { profile: ownOf(base, $state.snapshot(edited) as Profile), revision: found!.revision });
      editing = false;
      notice = "Saved. Customers now see your version.";
      await load();
    } catch (e) {
      trouble = explain(e);
      if (e instanceof Refused) faults = e.faults;
    }
  }
  // A dry run with an empty version returns the built-in profile.
  const shipped = async () => (await api.saveHost(name, { profile: { format: 1, name, extends: name, language: "en" }, revision: 0, dryRun: true })).host;
  async function reset() {
    trouble = "";
    try {
      await api.deleteHost(name);
      if (!found!.ours) return router.go("/hosts");
      notice = "The built-in profile is used again.";
      editing = false;
      await load();
    } catch (e) {
      trouble = explain(e);
    }
  }
  async function image(step: OwnStep, files: FileList | null) {
    const file = files?.[0];
    if (!file) return;
    trouble = "";
    const as = file.name.toLowerCase().replace(/\.jpeg$/, ".jpg").replace(/[^a-z0-9._-]+/g, "-").replace(/^[^a-z0-9]+/, "");
    try {
      if (!found!.revision) found = await api.saveHost(name, { profile: { format: 1, name, extends: name, language: edited!.language }, revision: 0 });
      const bytes = await new Promise<string>((done, failed) => {
        const reader = new FileReader();
        reader.onload = () => done(String(reader.result).split(",")[1]);
        reader.onerror = () => failed(reader.error);
        reader.readAsDataURL(file);
      });
      await api.saveHostImage(name, as, bytes);
      step.image = as;
      step.alt ??= "";
      stamp++;
    } catch (e) {
      trouble = explain(e);
    }
  }
</script>

{#if error}
  <Trouble {error} retry={load} />
{:else if found && edited}
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div class="min-w-0 flex-1 basis-72">
      <p><a href="/hosts" onclick={router.follow} class="rounded text-sm text-soft underline-offset-4 hover:underline">All hosts</a></p>
      <h1 class="mt-1 text-2xl font-semibold tracking-tight">{found.host.title}</h1>
      <p class="mt-1 text-soft">{found.host.summary}</p>
    </div>
    <div class="flex gap-2">
      {#if editing}
        <Button kind="plain" onclick={() => ((editing = false), (edited = opened(found!.host)), (faults = []), (trouble = ""))}>Cancel</Button>
        <Button onclick={save}>Save</Button>
      {:else}
        {#if found.revision}<Button kind="plain" onclick={reset}>{found.ours ? "Use built-in profile" : "Delete profile"}</Button>{/if}
        <Button onclick={() => ((editing = true), (notice = ""))}>Edit texts</Button>
      {/if}
    </div>
  </div>
  {#if notice}<p role="status" class="mt-4 rounded-lg bg-wash px-4 py-2.5">{notice}</p>{/if}
  {#if trouble}<div role="alert" class="mt-4 text-bad"><p>{trouble}</p>{#each faults as f, i (i)}<p class="text-sm">{f.what} {f.fix}</p>{/each}</div>{/if}
  {#if editing}
    <div class="mt-6 grid gap-4 sm:grid-cols-[minmax(0,1fr)_9rem]">
      <label class="block"><span class="mb-1 block font-medium">Name of this kind of host</span><input class="field" maxlength="80" bind:value={edited.title} /></label>
      <label class="block"><span class="mb-1 block font-medium">Language</span><input class="field" bind:value={edited.language} /></label>
    </div>
    <p class="mt-2 text-sm text-soft">In a step, {"{snippet}"} is replaced by the code to paste, and {"{title}"}, {"{width}"} and {"{height}"} by the pocket's values. You cannot change here what a place allows.</p>
    {#each edited.places as place (place.name)}
      <section class="mt-7 border-t border-line pt-5">
        <label class="block"><span class="mb-1 block font-medium">Name of this place</span><input class="field" maxlength="80" bind:value={place.title} /></label>
        {#each wheres.filter((w) => place.steps[w]) as where (where)}
          {@const list = place.steps[where] as unknown as OwnStep[]}
          <fieldset class="mt-4">
            <legend class="mb-1.5 text-sm font-medium first-letter:uppercase">{words[where]}</legend>
            <ol class="space-y-2">
              {#each list as step, i (step)}
                <li class="grid grid-cols-[1.75rem_minmax(0,1fr)_auto] items-start gap-2">
                  <span class="pt-2 text-center text-sm text-soft tabular-nums">{i + 1}</span>
                  <div>
                    <textarea class="field" rows="2" bind:value={step.say} aria-label="Step {i + 1}, {words[where]}"></textarea>
                    {#if step.image}
                      <div class="mt-1.5 flex flex-wrap items-start gap-3"><img class="max-h-32 rounded-lg border border-line" src="/api/v1/hosts/{name}/images/{step.image}?{stamp}" alt={step.alt} />
                        <div class="min-w-48 flex-1"><input class="field text-sm" placeholder="Text alternative of the image" aria-label="Text alternative of the image" bind:value={step.alt} /><button type="button" class="mt-1 rounded text-sm underline underline-offset-4" onclick={() => ((step.image = undefined), (step.alt = undefined))}>Delete image</button></div></div>
                    {/if}
                  </div>
                  <div class="flex pt-1">
                    <label class="tool relative grid cursor-pointer place-items-center px-2" title="Image for this step">▣<span class="sr-only">Image for step {i + 1}</span><input type="file" class="absolute inset-0 cursor-pointer opacity-0" accept="image/png,image/jpeg,image/webp,image/svg+xml" onchange={(e) => image(step, e.currentTarget.files)} /></label>
                    <button type="button" class="tool px-2" title="Add a step after this one" aria-label="Add a step after step {i + 1}" onclick={() => list.splice(i + 1, 0, { say: "" })}>+</button>
                    <button type="button" class="tool px-2" title="Delete this step" aria-label="Delete step {i + 1}" disabled={list.length == 1} onclick={() => list.splice(i, 1)}>−</button>
                  </div>
                </li>
              {/each}
            </ol>
          </fieldset>
        {/each}
      </section>
    {/each}
  {:else}
    <h2 class="mt-8 mb-2 font-semibold">How to recognise it</h2>
    <ul class="list-disc ps-5">{#each found.host.signs as sign, i (i)}<li>{sign}</li>{/each}</ul>
    <h2 class="mt-8 mb-2 font-semibold">Places</h2>
    <ul class="divide-y divide-line rounded-xl border border-line bg-sheet">
      {#each found.host.places as place (place.name)}
        <li class="px-4 py-3">
          <p class="font-medium">{place.title}</p>
          <p class="text-sm text-soft first-letter:uppercase">{takes(place.takes)}</p>
          <p class="mt-1 text-sm">Before publishing: {place.editor.says}</p>
        </li>
      {/each}
    </ul>
    {#if proved.length}
      <h2 class="mt-8 mb-1 font-semibold">Results in the host lab</h2>
      <p class="mb-2 text-sm text-soft">Each delivery was pasted into a simulated host of this kind, published, and checked in a browser.</p>
      <div class="overflow-x-auto rounded-xl border border-line bg-sheet">
        <table class="w-full text-start text-sm">
          <thead><tr class="border-b border-line text-soft"><th class="px-4 py-2 text-start font-medium">Delivery</th><th class="px-4 py-2 text-start font-medium">A countdown</th><th class="px-4 py-2 text-start font-medium">A pop-up</th></tr></thead>
          <tbody>
            {#each proved as row (row.delivery)}<tr class="border-b border-line last:border-0"><th scope="row" class="px-4 py-2 text-start font-medium">{row.delivery}</th><td class="px-4 py-2">{inWords(row.countdown)}</td><td class="px-4 py-2">{inWords(row.popup)}</td></tr>{/each}
          </tbody>
        </table>
      </div>
    {/if}
    <h2 class="mt-8 mb-2 font-semibold">Known problems</h2>
    <dl class="divide-y divide-line rounded-xl border border-line bg-sheet">{#each found.host.pitfalls as pit, i (i)}<div class="px-4 py-3"><dt class="font-medium">{pit.see}</dt><dd class="text-soft">{pit.because} <span class="text-ink">{pit.do}</span></dd></div>{/each}</dl>
  {/if}
{/if}
