<script lang="ts">
  // Changes the starter: shows each with the user's content, and lists what would change.
  import { explain } from "../../api/refused";
  import type { Previewed, StarterDifferences } from "../../api/types";
  import Box from "../../ui/Box.svelte";
  import Button from "../../ui/Button.svelte";
  import type { PocketEditor } from "../editor.svelte";
  import Changes from "../publish/Changes.svelte";
  import Rendering from "../publish/Rendering.svelte";
  import { api } from "../../api/client";

  let { editor, close }: { editor: PocketEditor; close: () => void } = $props();
  const starters = $derived(editor.widget!.starters);
  // svelte-ignore state_referenced_locally: the initial selection
  let chosen = $state(starters.find((s) => s.name != editor.draft.about.starter)?.name ?? "");
  let replaced = $state<string[]>([]);
  let differences = $state.raw<StarterDifferences | null>(null);
  let rendering = $state.raw<Previewed | null>(null);
  let trouble = $state("");

  $effect(() => {
    const [name, with_] = [chosen, [...replaced]];
    let gone = false;
    trouble = "";
    editor
      .starterDifferences(name, with_)
      .then(async (found) => {
        if (gone) return;
        differences = found;
        const shown = await api.preview(editor.key, { settings: found.settings });
        if (!gone) rendering = shown;
      })
      .catch((error) => (trouble = explain(error)));
    return () => (gone = true);
  });
  function start() {
    if (!differences) return;
    editor.changeStarter(differences, starters.find((s) => s.name == chosen)!.title.en!);
    editor.notice = "Changed the starter. To go back, use Undo.";
    close();
  }
</script>

<Box title="Change starter" about="Your own values stay. The other settings get the starter's values. You can undo this in one step." wide onclose={close} onsubmit={start}>
  <div class="grid gap-6 md:grid-cols-[200px_minmax(0,1fr)]">
    <div role="radiogroup" aria-label="Starter" class="space-y-1">
      {#each starters as starter (starter.name)}
        <label class={["block cursor-pointer rounded-lg border px-3 py-2", chosen == starter.name ? "border-teal bg-wash" : "border-line bg-sheet hover:border-edge"]}>
          <input type="radio" class="sr-only" name="starter" value={starter.name} bind:group={chosen} onchange={() => (replaced = [])} />
          <span class="font-medium">{starter.title.en}</span>{#if starter.name == editor.draft.about.starter}<span class="text-sm text-soft">{" · current"}</span>{/if}
          {#if starter.summary}<span class="block text-[13px] text-soft">{starter.summary.en}</span>{/if}
        </label>
      {/each}
    </div>
    <div class="min-w-0">
      {#if trouble}<p role="alert" class="text-bad">{trouble}</p>{/if}
      {#if rendering}<Rendering publicBase={editor.publicBase} label="With your values" payload={rendering} />{/if}
      {#if differences}
        <h3 class="mt-5 mb-2 font-semibold">Changes</h3>
        <Changes changes={differences.changes} empty="Nothing would change." />
        {#if differences.kept.length || replaced.length}
          <h3 class="mt-5 mb-1 font-semibold">Your own values, which stay</h3>
          <p class="mb-2 text-sm text-soft">Select the values that you want to replace.</p>
          <ul class="space-y-1.5">
            {#each [...differences.kept.map((k) => ({ key: k.key, label: k.label, before: k.before, after: k.after })), ...replaced.filter((t) => !differences!.kept.some((k) => k.key == t)).map((key) => ({ key, label: editor.label(key), before: "", after: "" }))] as kept (kept.key)}
              <li>
                <label class="flex items-baseline gap-2.5"
                  ><input type="checkbox" class="size-4 translate-y-0.5 accent-teal" value={kept.key} bind:group={replaced} /><span><span class="font-medium">{kept.label}</span>{#if kept.before || kept.after}<span class="text-soft"> {kept.before} instead of {kept.after || "nothing"}</span>{/if}</span></label
                >
              </li>
            {/each}
          </ul>
        {/if}
      {/if}
    </div>
  </div>
  {#snippet actions()}
    <Button kind="plain" onclick={close}>Cancel</Button>
    <Button type="submit" disabled={!differences}>Use this starter</Button>
  {/snippet}
</Box>
