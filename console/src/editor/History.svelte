<script lang="ts">
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { PocketDifferences, Publication } from "../api/types";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import { ago, exactly } from "../ui/time";
  import type { PocketEditor } from "./editor.svelte";
  import Changes from "./publish/Changes.svelte";
  import Rendering from "./publish/Rendering.svelte";
  import Schedules from "./publish/Schedules.svelte";
  import Audit from "./publish/Audit.svelte";
  import type { Previewed } from "../api/types";

  let { editor }: { editor: PocketEditor } = $props();
  const publishing = $derived(editor.publishing);
  $effect(() => void publishing.loadPublications());
  const current = $derived(editor.pocket?.publication ?? 0);
  const clients: Record<string, string> = { console: "in the console", token: "with a token", schedule: "as scheduled" };
  let restoring = $state<Publication | null>(null);
  let differences = $state.raw<PocketDifferences | null>(null);
  let renderings = $state.raw<[Previewed | null, Previewed] | null>(null);
  let trouble = $state("");
  let ending = $state(false);

  // Shows what restoring a publication would change.
  async function ask(publication: Publication) {
    restoring = publication;
    differences = renderings = null;
    trouble = "";
    try {
      const [found, before, after] = await Promise.all([
        current ? api.pocketDifferences(editor.key, current, publication.number) : null,
        current ? api.preview(editor.key, { publication: current }) : null,
        api.preview(editor.key, { publication: publication.number }),
      ]);
      if (restoring != publication) return; // closed, or another one is requested
      differences = found;
      renderings = [before, after];
    } catch (error) {
      session.expire(error);
      trouble = explain(error);
    }
  }
  function restore() {
    const number = restoring!.number;
    restoring = null;
    void publishing.restore(number);
  }
  function unpublish() {
    ending = false;
    void publishing.unpublish();
  }
  const some = (names: string[]) => (names.length > 3 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", "));
</script>

<div class="px-5 py-5">
  <label class="flex items-start gap-3">
    <input type="checkbox" class="mt-1 size-4 accent-teal" checked={publishing.follow} onchange={(e) => (publishing.follow = e.currentTarget.checked)} />
    <span>
      <span class="font-medium">Follow new releases</span>
      <span class="block text-sm text-soft">If on, visitors get the widget's newest suitable release automatically after the next publication. If off, they keep the release it is published with.</span>
    </span>
  </label>
  <Schedules {publishing} />
  <h2 class="mt-6 mb-1 text-[13px] font-semibold tracking-wide text-teal">Publications</h2>
  {#if publishing.publications.length == 0}
    <p class="text-soft">There are no publications yet.</p>
  {:else}
    <ol>
      {#each publishing.publications as publication (publication.number)}
        <li class="flex items-center justify-between gap-4 border-b border-line py-3 last:border-0">
          <div class="min-w-0">
            <p>
              <span class="font-medium">Number {publication.number}</span>{#if publication.unpublished}, unpublished{:else if publication.restores}, restored from number {publication.restores}{:else if publication.first}, the first{/if}
            </p>
            {#if publication.changed?.length}<p class="text-sm">{some(publication.changed)}</p>{/if}
            <p class="text-sm text-soft" title={exactly(publication.at)}>
              {ago(publication.at)} by {publication.by} {clients[publication.client] ?? ""}{#if !publication.unpublished}, {publication.follow ? "follows releases since" : "release"}
                {publication.release}{/if}
            </p>
          </div>
          {#if publication.number == current}
            <span class="shrink-0 text-sm font-medium text-teal">Live</span>
          {:else if !publication.unpublished && !editor.readonly}
            <Button kind="plain" class="min-h-8 shrink-0 px-3 text-sm" aria-label="Restore number {publication.number}" disabled={publishing.busy} onclick={() => ask(publication)}>Restore</Button>
          {/if}
        </li>
      {/each}
    </ol>
    {#if publishing.older}<Button kind="plain" class="mt-3" onclick={() => publishing.loadPublications(true)}>Show older</Button>{/if}
    {#if current && !editor.readonly}
      <div class="mt-4 flex items-center justify-between gap-4">
        <p class="text-sm text-soft">Restoring publishes an older version again. The draft does not change.</p>
        <Button kind="plain" class="min-h-8 shrink-0 px-3 text-sm" disabled={publishing.busy} onclick={() => (ending = true)}>Unpublish…</Button>
      </div>
    {/if}
  {/if}
  {#if !session.guest}<Audit {editor} />{/if}
</div>

{#if restoring}
  <Box title="Restore number {restoring.number}?" about="It is published again with a new number. Visitors see it within a minute. The draft does not change." wide onclose={() => (restoring = null)} onsubmit={restore}>
    {#if trouble}
      <p role="alert" class="text-bad">{trouble}</p>
    {:else if renderings}
      {#if differences}<Changes changes={differences.changes} empty="It is the same as the live version." />{/if}
      <div class="mt-5 flex gap-4 max-sm:flex-col">
        {#if renderings[0]}<Rendering publicBase={editor.publicBase} label="Before" payload={renderings[0]} />{/if}
        <Rendering publicBase={editor.publicBase} label="After" payload={renderings[1]} />
      </div>
    {:else}<p class="py-6 text-center text-soft" role="status">Comparing…</p>{/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (restoring = null)}>Cancel</Button>
      <Button type="submit" disabled={!renderings}>Restore</Button>
    {/snippet}
  </Box>
{/if}
{#if ending}
  <Box title="Unpublish this pocket?" about="Pages with its snippet show nothing in its place." onclose={() => (ending = false)} onsubmit={unpublish}>
    <p>The draft, the history and the snippet stay. To show it again, publish or restore it. You do not need to paste anything again.</p>
    {#snippet actions()}
      <Button kind="plain" onclick={() => (ending = false)}>Cancel</Button>
      <Button kind="grave" type="submit">Unpublish</Button>
    {/snippet}
  </Box>
{/if}
