<script lang="ts">
  // The installation of a pocket, question by question.
  import { tick, untrack } from "svelte";
  import type { PocketEditor } from "../editor/editor.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import { focusOn } from "../ui/focus";
  import HandOverBox from "./HandOverBox.svelte";
  import HostChoice from "./HostChoice.svelte";
  import type { Installing } from "./install.svelte";
  import PlacingForm from "./PlacingForm.svelte";
  import Steps from "./Steps.svelte";
  import Ways from "./Ways.svelte";

  let { editor, install, shown, choosePlace }: { editor: PocketEditor; install: Installing; shown: boolean; choosePlace: () => void } = $props();
  let handing = $state(false);
  const published = $derived((editor.pocket?.publication ?? 0) > 0);
  // Opened, or published since then.
  $effect(() => {
    const newest = editor.pocket?.newest ?? 0;
    if (!shown || !published || install.drawnFor == newest) return;
    install.drawnFor = newest;
    untrack(() => void install.load());
  });
  // Publishing for a host leads to the steps.
  let steps = $state<HTMLElement>();
  $effect(() => {
    if (!install.arrived) return;
    void tick().then(() => {
      steps?.scrollIntoView({ block: "start" });
      if (steps) focusOn(steps.querySelector("h2")!);
    });
  });
  const guide = $derived(install.guided?.guide);
  const ready = $derived(guide && (guide.offer.delivery != "sealed" || install.guided?.sealed));
</script>

<div class="space-y-6 px-5 py-5">
  {#if !published}
    <p class="font-medium">Publish first.</p>
    <p class="mt-1 text-soft">A snippet needs something to show. It never changes afterwards, and shows every later publication.</p>
    {#if session.guest || session.edits}<Button class="mt-3" onclick={choosePlace}>Publish for…</Button>{/if}
  {:else}
    <HostChoice {install} />
    {#if install.host && install.guided}
      <fieldset>
        <legend class="mb-2 font-semibold">Where does it go?</legend>
        <div class="grid grid-cols-2 gap-1.5">
          {#each install.guided.wheres as where (where)}
            <label class="relative flex min-h-10 cursor-pointer items-center rounded-lg border border-line bg-sheet px-3 py-1.5 text-sm first-letter:uppercase hover:bg-sunk has-checked:border-teal has-checked:bg-wash has-checked:font-medium has-focus-visible:outline-2 has-focus-visible:outline-offset-2 has-focus-visible:outline-teal">
              <input type="radio" class="sr-only" name="where" value={where} checked={where == install.wish.where} onchange={() => install.choose({ where })} /><span class="first-letter:uppercase">{install.words[where]}</span>
            </label>
          {/each}
        </div>
      </fieldset>
      <Ways {install} />
      {#if ready}
        <PlacingForm {install} />
        {#if guide!.offer.only}
          <p class={["rounded-lg px-3.5 py-2.5", guide!.ruled ? "bg-wash" : "border border-warn"]}>
            The code goes on every page, and a rule shows the widget only {guide!.offer.only == "home" ? "on the home page" : "on one page"}.
            {guide!.ruled ? "The rule is live:" : "The rule is not live yet. Set it, then publish:"}
            <button type="button" class="rounded underline underline-offset-4" onclick={() => editor.go("pocket/cues")}>Where and when it shows</button>
          </p>
        {/if}
        <section aria-labelledby="steps-heading" bind:this={steps} class="scroll-mt-4">
          <div class="mb-3 flex flex-wrap items-baseline justify-between gap-2">
            <h2 id="steps-heading" class="font-semibold">Steps</h2>
            {#if session.edits}<Button kind="plain" class="min-h-8 px-3 text-sm" onclick={() => ((install.made = null), (handing = true))}>Hand over to a webmaster</Button>{/if}
          </div>
          <Steps guide={guide!} copied={install.copied} marked={install.marked} />
        </section>
      {/if}
    {/if}
    {#if install.trouble}<p role="alert" class="text-bad">{install.trouble}</p>{/if}
  {/if}
</div>
{#if handing}<HandOverBox {install} onclose={() => (handing = false)} />{/if}
