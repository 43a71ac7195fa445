<script lang="ts">
  import { onMount, tick, type Snippet } from "svelte";
  import { matches } from "../ui/search";
  import { session } from "../session/session.svelte";
  import About from "./About.svelte";
  import Collisions from "./Collisions.svelte";
  import { provideEditor } from "./context";
  import { parts, type Part, type PocketEditor } from "./editor.svelte";
  import { extras } from "./extras";
  import Field from "./Field.svelte";
  import { types } from "./fields/table";
  import { finds, findsOwn } from "./find";
  import StarterLine from "./starter/StarterLine.svelte";

  // publish is the last part. It is not in the form with the settings, because it has its own.
  let { editor, publish }: { editor: PocketEditor; publish: Snippet } = $props();
  // svelte-ignore state_referenced_locally: the form is for one editor
  provideEditor(editor);
  const draft = $derived(editor.draft);
  const sight = $derived(editor.sight);
  const names: Record<Part, string> = { says: "Content", looks: "Look", stands: "Position", publish: "Publish" };

  const text = $derived(editor.search.trim());
  const groups = $derived(
    editor.widget!.groups
      .map((group) => ({ group, part: group.part as Part, settings: editor.widget!.settings.filter((s) => s.group == group.name && editor.matters(s) && (!text || finds(types, s, group.label, text))) }))
      .filter((g) => g.settings.length),
  );
  // Search results that are hidden, because another setting leaves them without effect.
  const idle = $derived(text ? editor.widget!.groups.flatMap((g) => editor.widget!.settings.filter((s) => s.group == g.name && !editor.matters(s) && finds(types, s, g.label, text))) : []);
  // The visible ones among the fields of every pocket.
  const starter = $derived(!text || findsOwn("pocket/starter", text));
  const controls = $derived(Object.values(extras).flatMap((extra) => (extra.control && (!text || matches(text, [extra.search])) ? [extra.control] : [])));
  const about = $derived(!text || findsOwn("pocket/title", text) || findsOwn("pocket/language", text));
  const publishes = $derived(!text && !session.views);
  // Only parts that have something, so that no anchor leads to nothing.
  const shown = $derived(parts.filter((part) => (part == "publish" ? publishes : part == "stands" ? about || controls.length || groups.some((g) => g.part == part) : groups.some((g) => g.part == part))));
  const changedIn = (part: Part) => editor.widget!.settings.filter((s) => editor.partOf(s) == part && (editor.changed(s.key) || (s.small && editor.changed("small/" + s.key)))).length;
  const chosen = $derived(sight.chosen.flatMap((m) => ({ ...m, setting: editor.setting(m.key)! })).filter((m) => m.setting && editor.matters(m.setting)));

  let form: HTMLElement;
  let top: HTMLElement;
  const few = 6; // largest number of a part's settings that are shown without a further click
  let all = $state(false);
  // Scrolls to a requested setting and focuses it.
  $effect(() => {
    const wanted = editor.wanted;
    if (!wanted) return;
    void tick().then(() => {
      const path = wanted.path.split("/").slice(0, wanted.path.startsWith("small/") || wanted.path.startsWith("pocket/") ? 2 : 1).join("/");
      const at = form.querySelector<HTMLElement>(`[data-path="${CSS.escape(wanted.path)}"]`) ?? form.querySelector<HTMLElement>(`[data-path="${CSS.escape(path)}"]`);
      if (!at) return;
      reach(at);
      // The control itself, or else a button next to it.
      const item = path != wanted.path && !wanted.path.includes("pocket/") ? "[data-item]" : `[id="setting-${CSS.escape(path.replaceAll("/", "-"))}"]`;
      for (const kind of [item, "input:not([type=color]), textarea, select, [contenteditable]", "[tabindex='0'], button"]) {
        const control = at.querySelector<HTMLElement>(kind);
        if (!control) continue;
        control.focus({ preventScroll: true });
        if (control.getBoundingClientRect().bottom > innerHeight - 16) control.scrollIntoView({ block: "nearest" });
        return;
      }
    });
  });
  // Scrolls to a part.
  function jump(part: Part) {
    const at = form.querySelector<HTMLElement>(`[data-part="${part}"]`);
    if (!at) return;
    editor.part = part;
    reach(at);
    if (part == "publish") tick().then(() => (at.querySelector<HTMLElement>("input") ?? at.querySelector<HTMLElement>("button:not(:disabled)"))?.focus({ preventScroll: true }));
  }
  function reach(at: HTMLElement) {
    // Within the form only, because scrollIntoView would move the page too.
    const box = form.parentElement!;
    if (box.scrollHeight > box.clientHeight && getComputedStyle(box).overflowY != "visible") box.scrollTop += at.getBoundingClientRect().top - top.getBoundingClientRect().bottom - 8;
    else scrollBy(0, at.getBoundingClientRect().top - Math.max(0, document.querySelector("[data-stays]")?.getBoundingClientRect().bottom ?? 0) - 8);
  }
  // svelte-ignore state_referenced_locally: the form is for one editor
  editor.onpart = jump;
  // Marks the part that is at the top of what is visible.
  function scrolled() {
    const edge = top.getBoundingClientRect().bottom + 40;
    const at = [...form.querySelectorAll<HTMLElement>("[data-part]")].filter((e) => e.getBoundingClientRect().top <= edge).at(-1);
    const box = form.parentElement!;
    const ended = box.scrollTop > 0 && box.scrollTop + box.clientHeight >= box.scrollHeight - 2;
    editor.part = ended ? shown.at(-1)! : ((at?.dataset.part as Part | undefined) ?? "says");
  }
  $effect(() => {
    const box = form.parentElement!;
    box.addEventListener("scroll", scrolled, { passive: true });
    return () => box.removeEventListener("scroll", scrolled);
  });
  // A pocket that has just been made opens on the field that matters.
  onMount(() => {
    const fresh = editor.pocket?.newest == 0 && editor.draft.revision == 1 && !editor.readonly;
    const first = fresh && form.offsetParent && editor.first;
    if (first && !editor.wanted) editor.go(first.key);
  });
  const pathOf = (at: EventTarget | null) => (at as HTMLElement | null)?.closest<HTMLElement>("[data-path]")?.dataset.path ?? "";
</script>

<div
  bind:this={form}
  onfocusin={(e) => editor.focus(pathOf(e.target))}
  onfocusout={(e) => {
    if (!form.contains(e.relatedTarget as Node | null)) editor.focus("");
  }}
>
  <div bind:this={top} class="z-10 space-y-2.5 lg:sticky lg:top-0 border-b border-line bg-sheet px-5 pt-3.5 pb-3">
    <input id="find-setting" type="search" class="field" placeholder="Find a setting ( / )" aria-label="Find a setting" bind:value={editor.search} onkeydown={(e) => e.key == "Escape" && (editor.search = "")} autocomplete="off" />
    {#if !text}
      <nav aria-label="Parts of the settings" class="flex flex-wrap gap-0.5 rounded-lg bg-sunk p-0.5">
        {#each shown as part (part)}
          <button type="button" class="min-h-8 flex-auto rounded-md px-3 py-1 text-sm text-soft hover:text-ink aria-[current]:bg-sheet aria-[current]:font-medium aria-[current]:text-ink aria-[current]:shadow-sm" aria-current={editor.part == part ? "true" : undefined} onclick={() => jump(part)}>{names[part]}</button>
        {/each}
      </nav>
    {/if}
    {#if chosen.length}
      <div class="-mx-5 -mb-3 border-t border-line bg-wash px-5 py-2.5" role="group" aria-label="Settings of the selected part">
        <div class="mb-1.5 flex items-baseline justify-between gap-3">
          <span class="text-sm font-medium">Settings of this part</span>
          <button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => (sight.chosen = [])}>Close</button>
        </div>
        <div class="flex flex-wrap gap-1.5">
          {#each all ? chosen : chosen.slice(0, few) as maker (maker.key)}
            <button type="button" class={["rounded-full border px-2.5 py-0.5 text-sm", editor.focused.startsWith(maker.key) ? "border-teal bg-sheet font-medium" : "border-edge bg-sheet hover:border-teal"]} onclick={() => editor.open([maker])}
              >{maker.setting.label.en}{maker.item === undefined ? "" : ` ${maker.item + 1}`}</button
            >
          {/each}
          {#if !all && chosen.length > few}<button type="button" class="rounded px-1.5 text-sm underline underline-offset-4" onclick={() => (all = true)}>{chosen.length - few} more</button>{/if}
        </div>
      </div>
    {/if}
  </div>
  <form onsubmit={(e) => e.preventDefault()} aria-label="Settings">
  <!-- Viewers cannot change anything. -->
  <fieldset disabled={editor.readonly} class="contents">
  <Collisions {editor} />
  {#if starter}<StarterLine {editor} />{/if}
  {#each shown.filter((p) => p != "publish") as part (part)}
    <section data-part={part} aria-label={names[part]}>
      {#if !text}<h2 class="border-b border-line bg-paper px-5 py-2 text-sm font-semibold">{names[part]}{#if changedIn(part)}{" "}<span class="ms-1.5 font-normal text-soft">{changedIn(part)} changed</span>{/if}</h2>{/if}
      {#each groups.filter((g) => g.part == part) as { group, settings } (group.name)}
        <fieldset class="border-b border-line px-5 pt-5 pb-1 last:border-0">
          <!-- A group with the name of its part needs no heading of its own. -->
          <legend class={!text && group.label.en == names[part] ? "sr-only" : "float-start mb-4 w-full text-[13px] font-semibold tracking-wide text-teal"}>{group.label.en}</legend>
          <div class="clear-both">
            {#each settings as setting (setting.key)}
              <Field
                {setting}
                value={editor.value(setting.key)}
                path={setting.key}
                faults={draft.faults}
                onchange={(value) => draft.set(setting.key, value)}
                small={draft.small[setting.key]}
                onsmall={setting.small ? (value) => draft.set("small/" + setting.key, value) : undefined}
                changed={editor.changed(setting.key)}
                onreset={() => editor.reset(setting.key)}
              />
            {/each}
          </div>
        </fieldset>
      {/each}
      {#if part == "stands"}
        {#each controls as Control (Control)}<Control {editor} />{/each}
        {#if about}<About {editor} />{/if}
      {/if}
    </section>
  {/each}
  {#if idle.length}
    <p class="px-5 py-4 text-sm text-soft">Hidden because they have no effect at the moment: {idle.map((s) => s.label.en).join(", ")}.</p>
  {/if}
  {#if text && groups.length == 0 && idle.length == 0 && !starter && controls.length == 0 && !about}
    <div class="px-5 py-10 text-center">
      <p class="font-medium">No settings match “{text}”.</p>
      <p class="mt-1 text-soft">Press F2 and click a part of the preview to open its settings.</p>
    </div>
  {/if}
  {#if draft.aside.length && !text}
    <p class="px-5 py-4 text-sm text-soft">Kept from another release, but not used by this one: <code>{draft.aside.join(", ")}</code>.</p>
  {/if}
  </fieldset>
  </form>
  {#if publishes}
    <section data-part="publish" aria-label={names.publish}>
      <h2 class="border-b border-line bg-paper px-5 py-2 text-sm font-semibold">{names.publish}</h2>
      {@render publish()}
    </section>
  {/if}
</div>
