<script lang="ts">
  // A widget's releases, and withdrawing one after showing what that affects.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Release, ReleaseUses } from "../api/types";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import { ago } from "../ui/time";

  let { name, releases, onchange }: { name: string; releases: Release[]; onchange: () => Promise<void> } = $props();
  let asking = $state(0); // number of the release to withdraw
  let uses = $state.raw<ReleaseUses | null>(null);
  let trouble = $state("");
  let busy = $state(false);

  async function change(what: () => Promise<unknown>) {
    busy = true;
    trouble = "";
    try {
      await what();
      asking = 0;
      await onchange();
    } catch (error) {
      session.expire(error);
      trouble = explain(error);
    }
    busy = false;
  }
  async function ask(number: number) {
    asking = number;
    uses = null;
    trouble = "";
    try {
      uses = await api.releaseUses(name, number);
    } catch (error) {
      session.expire(error);
      trouble = explain(error);
    }
  }
</script>

{#snippet named(used: ReleaseUses["following"])}
  <ul class="mt-1 max-h-40 list-disc overflow-y-auto ps-5 text-soft">
    {#each used.pockets as pocket (pocket.key)}<li>{pocket.title} <span class="font-mono text-[13px]">{pocket.key}</span></li>{/each}
    {#if used.count > used.pockets.length}<li>and {used.count - used.pockets.length} more</li>{/if}
  </ul>
{/snippet}

<ul class="mt-2 divide-y divide-line overflow-hidden rounded-lg border border-line bg-sheet text-sm">
  {#each releases as each (each.number)}
    <li class="px-3 py-2">
      <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
        <strong class="w-8 tabular-nums">{each.number}</strong>
        <span class="min-w-0 flex-1 basis-48 truncate">{each.note || "No note"}</span>
        <span class="text-soft">{ago(each.createdAt)}, {each.createdBy}</span>
        {#if each.withdrawnAt}
          <span class="text-warn">Withdrawn</span>
          <button type="button" class="rounded text-teal underline-offset-4 hover:underline" disabled={busy} onclick={() => change(() => api.withdrawRelease(name, each.number, false))}>Put back into use</button>
        {:else}
          {#if each.share < 100}
            <span class="text-warn tabular-nums">{each.share} of 100</span>
            <button type="button" class="rounded text-teal underline-offset-4 hover:underline" disabled={busy} onclick={() => change(() => api.shareRelease(name, each.number, 100))}>Roll out to all</button>
          {/if}
          <button type="button" class="rounded text-teal underline-offset-4 hover:underline" aria-expanded={asking == each.number} aria-label="Withdraw release {each.number}" onclick={() => (asking == each.number ? (asking = 0) : ask(each.number))}>Withdraw…</button>
        {/if}
      </div>
      {#if asking == each.number}
        <div class="mt-2 rounded-lg bg-sunk p-3" role="group" aria-label="Withdraw release {each.number}?">
          {#if uses}
            {#if uses.next}
              <p>{uses.following.count ? `${uses.following.count == 1 ? "1 pocket follows it. Its" : `${uses.following.count} pockets follow it. Their`} visitors get release ${uses.next} instead:` : "No pocket that follows new releases uses it."}</p>
              {#if uses.following.count}{@render named(uses.following)}{/if}
              {#if uses.stuck.count}
                <p class="mt-2 font-medium text-warn">{uses.stuck.count == 1 ? "1 of them cannot change to an older release. Its" : `${uses.stuck.count} of them cannot change to an older release. Their`} visitors keep release {each.number}:</p>
                <ul class="mt-1 max-h-40 list-disc overflow-y-auto ps-5 text-soft">
                  {#each uses.stuck.pockets as pocket (pocket.key)}<li>{pocket.title} <span class="font-mono text-[13px]">{pocket.key}</span>: {pocket.why}</li>{/each}
                  {#if uses.stuck.count > uses.stuck.pockets.length}<li>and {uses.stuck.count - uses.stuck.pockets.length} more</li>{/if}
                </ul>
              {/if}
            {:else}
              <p class="font-medium text-warn">This is the last release in use.</p>
              <p>Nothing changes for visitors. Until a release is in use, {uses.ofWidget == 1 ? "the widget's pocket" : `the widget's ${uses.ofWidget} pockets`} cannot be published, and no new ones can be made.</p>
              {#if uses.following.count}{@render named(uses.following)}{/if}
            {/if}
            {#if uses.pinned.count}
              <p class="mt-2">{uses.pinned.count == 1 ? "1 pocket was published with it. Its" : `${uses.pinned.count} pockets were published with it. Their`} visitors still see it:</p>
              {@render named(uses.pinned)}
            {/if}
            <div class="mt-3 flex gap-2">
              <Button kind="plain" class="min-h-8 px-3 text-sm" onclick={() => (asking = 0)}>Cancel</Button>
              <Button kind="grave" class="min-h-8 px-3 text-sm" disabled={busy} onclick={() => change(() => api.withdrawRelease(name, each.number, true))}>Withdraw release {each.number}</Button>
            </div>
          {:else if !trouble}<p role="status" class="text-soft">Checking which pockets use it…</p>{/if}
        </div>
      {/if}
    </li>
  {/each}
</ul>
{#if trouble}<p role="alert" class="mt-2 text-bad">{trouble}</p>{/if}
