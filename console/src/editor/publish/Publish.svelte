<script lang="ts">
  // The last part of the form: the changes, the place, and one button for each host.
  import SignUpForm from "../../guest/SignUpForm.svelte";
  import { router } from "../../router.svelte";
  import { session } from "../../session/session.svelte";
  import Button from "../../ui/Button.svelte";
  import Segments from "../../ui/Segments.svelte";
  import type { Previewed } from "../../api/types";
  import Changes from "./Changes.svelte";
  import type { Flow } from "./flow.svelte";
  import HostList from "../../install/HostList.svelte";
  import Later from "./Later.svelte";
  import { wheres, type Where } from "./places";
  import Rendering from "./Rendering.svelte";

  let { flow, ondone }: { flow: Flow; ondone: (host: string) => void } = $props();
  const editor = $derived(flow.editor);
  const publishing = $derived(editor.publishing);
  const live = $derived((editor.pocket?.publication ?? 0) > 0);
  let seen = $state(false); // this part is on the screen
  let box: HTMLElement;
  let renderings = $state.raw<[Previewed | null, Previewed] | null>(null);
  let comparing = $state(false);

  $effect(() => {
    const watch = new IntersectionObserver((entries) => (seen = entries.at(-1)!.isIntersecting));
    watch.observe(box);
    return () => watch.disconnect();
  });
  // What has changed, and the heights, as soon as they can be seen and after each save.
  $effect(() => {
    if (!seen || editor.draft.state != "saved" || session.guest) return;
    void [editor.draft.revision, publishing.pocket?.newest];
    publishing.prepare();
    if (live) void publishing.compare();
    if (comparing) void publishing.look().then((found) => (renderings = found), () => {});
  });
</script>

<div bind:this={box} class="space-y-5 px-5 pt-5 pb-6">
  {#if live && publishing.differences}
    <section aria-label="Changes since the live version">
      <h3 class="mb-2 font-medium">Changes since number {editor.pocket!.publication}, the live version</h3>
      <Changes changes={publishing.differences.changes} empty="Visitors already see this draft." />
      {#if publishing.differences.changes.length}
        <div class="mt-3 flex flex-wrap items-center gap-3">
          <Button disabled={!!flow.busy || publishing.busy || editor.pocket?.releaseless} onclick={() => flow.publish()}>{flow.busy == "now" ? "Publishing…" : "Publish changes"}</Button>
        </div>
      {/if}
    </section>
  {/if}
  {#if session.guest && flow.wanted}
    {@const host = flow.install.hosts.find((h) => h.name == flow.wanted)}
    <section aria-label="Sign up to publish" class="rounded-xl border border-teal bg-wash px-4 py-4">
      <p class="font-medium">Sign up to publish for “{host?.title}”</p>
      <p class="mb-4 text-sm text-soft">Your pocket moves to your account with all its settings.</p>
      <SignUpForm ondone={() => ondone(flow.wanted)}>
        {#snippet actions(busy)}
          <div class="mt-4 flex flex-wrap items-center gap-3">
            <Button type="submit" disabled={busy || !!flow.busy}>{busy || flow.busy ? "Publishing…" : "Sign up and publish"}</Button>
            <Button kind="plain" onclick={() => (flow.wanted = "")}>Choose another host</Button>
            <button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => router.go("/sign-in")}>Sign in instead</button>
          </div>
        {/snippet}
      </SignUpForm>
    </section>
  {:else}
    <section aria-labelledby="publish-where">
      <h3 id="publish-where" class="mb-2 font-medium">{live ? "Install it" : "Where does it go?"}</h3>
      <Segments value={flow.where} label="Place" options={wheres.map(([value, label]) => ({ value, label }))} onchange={(v) => flow.choose(v as Where)} />
      {#if flow.contradiction}
        <div role="alert" class="mt-2 rounded-lg border border-warn px-3.5 py-2.5 text-sm">
          <p>{flow.contradiction}</p>
          <div class="mt-1.5 flex flex-wrap gap-x-4 gap-y-1">
            <button type="button" class="rounded underline underline-offset-4" onclick={() => flow.insist()}>Show it only on the home page</button>
            <button type="button" class="rounded underline underline-offset-4" onclick={() => ((flow.contradiction = ""), flow.choose(""))}>Keep the rule</button>
          </div>
        </div>
      {:else if flow.where == "home"}<p class="mt-1.5 text-sm text-soft">A rule shows it only on the home page.</p>{/if}
    </section>
    <section aria-labelledby="publish-host">
      <h3 id="publish-host" class="mb-0.5 font-medium">Publish for…</h3>
      <p class="mb-2 text-sm text-soft">{publishing.somethingNew ? "Choose a host: this publishes, copies its snippet, and shows the steps." : "Choose a host: this copies its snippet and shows the steps."}</p>
      <HostList hosts={flow.install.hosts} places={flow.places} first={flow.place?.host} label="Publish for" busy={flow.busy} unfit={(h) => flow.unfit(h)} choose={(name) => flow.publishFor(name)} />
    </section>
  {/if}
  {#if !session.guest}
    <details ontoggle={(e) => (comparing = e.currentTarget.open)}>
      <summary class="cursor-pointer rounded text-soft hover:text-ink">{live ? "Before and after" : "As visitors would see it"}</summary>
      {#if renderings}
        <div class="mt-3 space-y-3">
          {#if renderings[0]}<Rendering publicBase={editor.publicBase} label="Before" payload={renderings[0]} />{/if}
          <Rendering publicBase={editor.publicBase} label={renderings[0] ? "After" : "Preview"} payload={renderings[1]} />
        </div>
      {/if}
    </details>
    <Later {editor} />
  {/if}
</div>
