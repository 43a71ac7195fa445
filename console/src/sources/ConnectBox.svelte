<script lang="ts">
  // Connects a source: one field for an address, a @name@host or the name of a business, or a file.
  import { onMount, tick, untrack } from "svelte";
  import { Refused, explain } from "../api/refused";
  import { sources as api } from "../api/sources";
  import { session } from "../session/session.svelte";
  import type { Business, NewSource, Source, SourceCandidate, SourceLook, SourceSecret } from "../api/types";
  import Button from "../ui/Button.svelte";
  import Mapping from "./Mapping.svelte";
  import { aboutOf, count, nameOf } from "./words";

  // tryout shows items where the source will be used, or nothing for null.
  type Props = { customer: string; id: string; known?: Source[]; kinds?: string[]; needs?: string[]; tryout?: (values: Record<string, unknown>[] | null) => void; onclose: () => void; onconnected: (source: Source) => void; onwish?: (source: NewSource, chosen: SourceCandidate) => void; ontable?: (pasted: DataTransfer) => void };
  let { customer, id: list, known = [], kinds, needs, tryout = () => {}, onclose, onconnected, onwish, ontable }: Props = $props();
  let text = $state("");
  let file = $state.raw<{ name: string; bytes: string } | null>(null);
  let busy = $state("");
  let trouble = $state<{ what: string; hint: string } | null>(null);
  let candidates = $state.raw<SourceCandidate[]>([]);
  let businesses = $state.raw<Business[]>([]);
  let picked = $state(0);
  let over = $state(false);
  let wantsToken = $state(false);
  let secret = $state<SourceSecret>({ in: "bearer", name: "", value: "" });
  let field = $state<HTMLInputElement>();
  let results = $state<HTMLElement>();
  let connects = $state<HTMLElement>();
  const chosen = $derived(candidates[picked]);
  const most = 8; // MiB of a file

  onMount(() => {
    // It opens by itself in a new pocket, and must not take the focus from somebody who types.
    const at = document.activeElement;
    if (!at || at == document.body || at.id == `setting-${list}` || at.tagName == "BUTTON" || at.tagName == "H1") field?.focus();
    const show = tryout;
    return () => queueMicrotask(() => show(null)); // a teardown itself still reads the state before the change
  });
  // The first items, as the widget would show them.
  $effect(() => {
    const items = chosen?.items.map((i) => ({ ...i.values, id: i.id }));
    if (items?.length) untrack(() => tryout(items));
  });

  const looked = (): SourceLook => ({ ...(kinds ? { kinds } : {}), ...(needs ? { needs } : {}), ...(file ? { file: file.bytes, fileName: file.name } : { text: text.trim() }), ...(wantsToken && secret.value ? { secret: $state.snapshot(secret) } : {}) });

  const ask = (about: SourceLook) => (session.guest ? api.try(about) : api.look(customer, about));

  async function look() {
    if (!file && !text.trim()) return;
    busy = "Looking…";
    trouble = null;
    [candidates, businesses, picked] = [[], [], 0];
    try {
      const found = await ask(looked());
      [candidates, businesses] = [found.candidates, found.businesses];
      busy = "";
      await tick();
      (results?.querySelector<HTMLElement>("input, button, select") ?? connects?.querySelector<HTMLElement>("[data-connects]"))?.focus();
    } catch (error) {
      trouble = error instanceof Refused ? { what: error.message, hint: error.hint } : { what: explain(error), hint: "" };
      if (error instanceof Refused && error.code == "source-token") wantsToken = true;
    }
    busy = "";
  }

  // What was found is not what the field asks for any more.
  function edited() {
    file = null;
    if (candidates.length) tryout(null);
    [candidates, businesses, picked] = [[], [], 0];
  }

  // A table belongs to the typed-in entries. An address has neither tabs nor lines.
  function pasted(event: ClipboardEvent) {
    if (!ontable || !/[\t\n]/.test(event.clipboardData?.getData("text/plain").trim() ?? "")) return;
    event.preventDefault();
    ontable(event.clipboardData!);
  }

  function pick(b: Business) {
    text = b.address;
    void look();
  }

  async function read(given: File | undefined) {
    if (!given) return;
    if (given.size > most * 2 ** 20) {
      trouble = { what: `${given.name} has ${(given.size / 2 ** 20).toFixed(1)} MB; the limit is ${most} MB.`, hint: "Split it, or put it online and enter its address." };
      return;
    }
    const bytes = new Uint8Array(await given.arrayBuffer());
    let binary = "";
    for (let i = 0; i < bytes.length; i += 0x8000) binary += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
    file = { name: given.name, bytes: btoa(binary) };
    text = "";
    await look();
  }

  // Reads the chosen one again, with other options.
  async function reread(options: SourceCandidate["options"]) {
    const at = candidates[picked];
    try {
      const found = await ask({ ...looked(), reader: at.reader, options: { ...at.options, ...options } });
      candidates = candidates.map((c, i) => (i == picked ? { ...found.candidates[0], name: c.name } : c));
      trouble = null;
    } catch (error) {
      trouble = error instanceof Refused ? { what: error.message, hint: error.hint } : { what: explain(error), hint: "" };
    }
  }

  async function connect() {
    busy = "Connecting…";
    trouble = null;
    try {
      const { name, reader, address, options } = chosen;
      const source: NewSource = { name, reader, options, ...(file ? { file: file.bytes, fileName: file.name } : { address }), ...(looked().secret ? { secret: looked().secret } : {}) };
      if (onwish) onwish(source, chosen);
      else onconnected(await api.connect(customer, source));
    } catch (error) {
      trouble = error instanceof Refused ? { what: error.message, hint: error.hint } : { what: explain(error), hint: "" };
    }
    busy = "";
  }
  function close() {
    tryout(null);
    onclose();
  }
  const onkeydown = (e: KeyboardEvent) => e.key == "Escape" && (e.stopPropagation(), close());
</script>

<!-- svelte-ignore a11y_no_static_element_interactions: Escape closes it, also from its fields -->
<div
  {onkeydown}
  class={["rounded", over && "outline-2 outline-offset-4 outline-teal"]}
  ondragover={(e) => {
    if (!e.dataTransfer?.types.includes("Files")) return;
    e.preventDefault();
    e.stopPropagation();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    over = false;
    if (!e.dataTransfer?.files.length) return;
    e.preventDefault();
    e.stopPropagation();
    void read(e.dataTransfer.files[0]);
  }}
>
  {#if known.length && !candidates.length && !businesses.length}
    <p class="mb-1.5 text-sm font-medium">Already connected</p>
    <div class="mb-3 flex flex-wrap gap-1.5">
      {#each known as s (s.id)}<button type="button" class="max-w-full truncate rounded-full border border-edge bg-sheet px-2.5 py-0.5 text-sm hover:border-teal" onclick={() => onconnected(s)}>{s.name}</button>{/each}
    </div>
  {/if}
  <label class="mb-1.5 block text-sm font-medium" for="connect-{list}">Address, @name@host, or name of a business</label>
  <div class="flex gap-2">
    <input id="connect-{list}" bind:this={field} class="field min-w-0 flex-1" bind:value={text} placeholder="https://…" autocomplete="off" spellcheck="false" aria-describedby="connect-{list}-about" oninput={edited} onpaste={pasted} onkeydown={(e) => e.key == "Enter" && (e.preventDefault(), void look())} />
    <Button kind={chosen ? "plain" : "main"} class="shrink-0" disabled={!!busy || !text.trim()} onclick={look}>Find</Button>
  </div>
  <p id="connect-{list}-about" class="mt-1.5 text-sm text-soft">
    {#if file}{file.name}{:else}Or <label class="cursor-pointer underline underline-offset-4 focus-within:outline-2 focus-within:outline-teal"><input type="file" class="sr-only" aria-label="Choose a file to connect" onchange={(e) => read(e.currentTarget.files?.[0])} />choose a file</label>, or drop one here: CSV, JSON, a calendar, or a ZIP of Markdown files.{/if}
  </p>
  {#if wantsToken}
    <div class="mt-3 grid grid-cols-2 gap-2" role="group" aria-label="Token">
      <label class="col-span-2 text-sm font-medium" for="connect-{list}-token">Token or key that the source requires</label>
      <input id="connect-{list}-token" type="password" class="field col-span-2" bind:value={secret.value} autocomplete="off" onkeydown={(e) => e.key == "Enter" && (e.preventDefault(), void look())} />
      <select class="field" bind:value={secret.in} aria-label="How it is sent">
        <option value="bearer">As a bearer token</option><option value="header">In a header field</option><option value="query">In the address</option>
      </select>
      {#if secret.in != "bearer"}<input class="field" bind:value={secret.name} placeholder={secret.in == "header" ? "X-Api-Key" : "key"} aria-label="Name of the {secret.in == 'header' ? 'header field' : 'parameter'}" />{/if}
      <p class="col-span-2 text-sm text-soft">It is stored encrypted, sent to this host only, and never shown again.</p>
    </div>
  {/if}
  <div aria-live="polite">
    {#if busy}<p class="mt-2 text-sm text-soft">{busy}</p>{/if}
    {#if trouble}<p class="mt-2 text-sm text-bad" role="alert">{trouble.what} <span class="text-soft">{trouble.hint}</span></p>{/if}
  </div>
  <div bind:this={results}>
    {#if businesses.length}
      <p class="mt-3 mb-1.5 text-sm font-medium">Which one is it?</p>
      <ul class="space-y-1.5">
        {#each businesses as b (b.address)}
          <li>
            <button type="button" class="w-full rounded-lg border border-edge bg-sheet px-3 py-2 text-start hover:border-teal" onclick={() => pick(b)}>
              <span class="block font-medium">{b.name}</span><span class="block text-sm text-soft">{[b.place, b.reviews ? `${b.rating?.toFixed(1)} of 5, ${count(b.reviews, "review")}` : "no reviews", b.directory].filter(Boolean).join(" · ")}</span>
            </button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if candidates.length > 1}
      <fieldset class="mt-3">
        <legend class="mb-1.5 text-sm font-medium">What would you like to show?</legend>
        {#each candidates as c, i (i)}
          <label class="flex items-start gap-2.5 py-1"><input type="radio" class="mt-1 size-4 accent-teal" name="candidate-{list}" checked={picked == i} onchange={() => (picked = i)} onkeydown={(e) => e.key == "Enter" && (e.preventDefault(), void connect())} /><span><span class="block">{c.name}</span><span class="block text-sm text-soft">{c.form}, {count(c.count, "item")}</span></span></label>
        {/each}
      </fieldset>
    {/if}
    {#if chosen}
      <div class="mt-3 rounded-lg border border-line bg-sheet">
        {#if candidates.length == 1}<p class="border-b border-line px-3 py-2"><span class="font-medium">{chosen.name}</span> <span class="text-sm text-soft">{[chosen.about.place, chosen.form, count(chosen.count, "item")].filter(Boolean).join(" · ")}</span></p>{/if}
        {#if chosen.outline}<Mapping outline={chosen.outline} mapping={chosen.options.mapping ?? {}} onchange={(mapping) => reread({ mapping })} />{/if}
        {#if chosen.reader == "activity" && chosen.options.part == "posts"}
          <div class="flex flex-wrap gap-x-5 gap-y-1 border-b border-line px-3 py-2 text-sm">
            <label class="flex items-center gap-2"><input type="checkbox" class="size-4 accent-teal" checked={!!chosen.options.replies} onchange={(e) => reread({ replies: e.currentTarget.checked })} />With its replies to others</label>
            <label class="flex items-center gap-2"><input type="checkbox" class="size-4 accent-teal" checked={!!chosen.options.boosts} onchange={(e) => reread({ boosts: e.currentTarget.checked })} />With posts of others that it passes on</label>
          </div>
        {/if}
        <ul class="divide-y divide-line text-sm">
          {#each chosen.items.slice(0, 4) as item (item.id)}<li class="px-3 py-1.5"><span class="line-clamp-1">{nameOf(item)}</span><span class="text-soft">{aboutOf(item).join(" · ")}</span></li>{:else}<li class="px-3 py-2 text-soft">There are no items yet.</li>{/each}
        </ul>
        {#if chosen.unfit}<p class={["border-t border-line px-3 py-2 text-sm", chosen.fits ? "text-soft" : "text-bad"]} role={chosen.fits ? undefined : "alert"}>{chosen.unfit}</p>{/if}
        {#each [...chosen.about.repairs, ...chosen.about.skipped].slice(0, 4) as note (note)}<p class="border-t border-line px-3 py-1.5 text-sm text-soft">{note}</p>{/each}
      </div>
    {/if}
  </div>
  <div bind:this={connects} class="mt-3 flex flex-wrap justify-end gap-2">
    {#if !wantsToken && text.trim() && !candidates.length}<button type="button" class="me-auto rounded text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => (wantsToken = true)}>It requires a token</button>{/if}
    <Button kind="plain" onclick={close}>Cancel</Button>
    {#if chosen}<Button data-connects disabled={!!busy} onclick={connect}>Connect</Button>{/if}
  </div>
</div>
