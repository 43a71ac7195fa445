<script lang="ts">
  // The hosts, each as one button. Those of the customer's places are first.
  import type { Host, UsedPlace } from "../api/types";
  import { matches } from "../ui/search";

  type Props = {
    hosts: Host[];
    places?: UsedPlace[];
    first?: string; // name of the host that comes first
    label: string; // what choosing a host does
    busy?: string; // name of the host that it is being done for
    unfit?: (host: Host) => string; // why a host cannot be chosen, "" if it can
    choose: (name: string) => void;
  };
  let { hosts, places = [], first = "", label, busy = "", unfit = () => "", choose }: Props = $props();
  let search = $state("");
  const ranked = $derived.by(() => {
    const used = [first, ...places.map((p) => p.host)];
    const rank = (name: string) => (used.includes(name) ? used.indexOf(name) : used.length);
    return [...hosts].sort((a, b) => rank(a.name) - rank(b.name));
  });
  const found = $derived(ranked.filter((h) => matches(search, [h.title, h.summary, h.name, ...h.signs])));
  const site = (name: string) => places.find((p) => p.host == name && p.site)?.site ?? "";
  const best = $derived(found.find((h) => !unfit(h)));
</script>

<input
  type="search"
  class="field"
  placeholder="What is the page built with?"
  aria-label="{label}: search hosts"
  bind:value={search}
  autocomplete="off"
  onkeydown={(e) => {
    if (e.key != "Enter") return;
    e.preventDefault();
    if (search.trim() && best) choose(best.name);
  }}
/>
<p class="sr-only" role="status">{search.trim() && best ? `Enter chooses ${best.title}.` : ""}</p>
<ul class="mt-2 max-h-[46vh] divide-y divide-line overflow-y-auto rounded-lg border border-line bg-sheet" aria-label={label}>
  {#each found as h (h.name)}
    {@const why = unfit(h)}
    <li>
      <button type="button" class={["block w-full px-3.5 py-2.5 text-start enabled:hover:bg-sunk disabled:opacity-60", search.trim() && h == best && "bg-wash"]} disabled={!!busy || !!why} onclick={() => choose(h.name)}>
        <span class="flex items-baseline justify-between gap-3"><span class="font-medium">{h.title}</span>{#if busy == h.name}<span class="shrink-0 text-sm text-soft" role="status">Publishing…</span>{:else if site(h.name)}<span class="truncate text-sm text-soft">{site(h.name)}</span>{/if}</span>
        <span class="block text-sm text-soft">{why || h.signs[0]}</span>
      </button>
    </li>
  {:else}
    <li class="px-3.5 py-6 text-center text-soft">No hosts match. Search for something that you see there, such as “source view” or “sections”.</li>
  {/each}
</ul>
