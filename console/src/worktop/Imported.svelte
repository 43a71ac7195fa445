<script lang="ts">
  // The result for an imported page: what needs manual work, the files that it loads from other
  // servers, and what was done.
  import type { Snippet } from "svelte";
  import Button from "../ui/Button.svelte";
  import Proposals from "./Proposals.svelte";
  import type { PageIntake } from "./start.svelte";

  // children is the next step.
  let { intake, children }: { intake: PageIntake; children: Snippet } = $props();
  const taken = $derived(intake.taken!);
  const hand = $derived(taken.notes.filter((n) => !n.done));
  const done = $derived(taken.notes.filter((n) => n.done));
  const faults = $derived(taken.faults.filter((f) => !f.warning));
  const size = (bytes: number) => (bytes < 1000 ? `${bytes} bytes` : `${Math.round(bytes / 102.4) / 10} KB`);
  const repairs = [
    { kind: "ids", label: "Turn duplicate IDs into classes" },
    { kind: "selectors", label: "Limit selectors to the widget" },
    { kind: "units", label: "Convert rem to pixels" },
    { kind: "unused", label: "Remove unused rules" },
  ];
  const accepts: Record<string, string> = { image: "image/*", style: ".css", script: ".js", font: ".woff2,.woff", sound: "audio/*" };
  const states: Record<string, string> = { copied: "copied into the folder", kept: "loaded from its server", left: "left out" };
</script>

<section class="mt-5 grid gap-6 lg:grid-cols-[minmax(0,1fr)_300px]" aria-busy={intake.busy}>
  <div class="min-w-0">
    <h2 class="text-lg font-semibold">“{taken.title}” is imported</h2>
    <p class="mt-1 text-soft">
      {taken.files.length == 1 ? "1 file." : `${taken.files.length} files.`}
      {#if faults.length}{faults.length} {faults.length == 1 ? "fault is" : "faults are"} to correct on the worktop before you can release it.{:else}You can release it now.{/if}
    </p>

    <Proposals {intake} />
    {#if hand.length || faults.length}
      <h3 class="mt-6 mb-2 font-semibold">To do <span class="text-sm font-normal text-soft tabular-nums">{hand.length + faults.length}</span></h3>
      <ul class="divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
        {#each hand as n (n)}
          <li class="px-4 py-2.5">
            <p>{n.what} {#if n.line}<span class="font-mono text-[13px] text-soft">line {n.line} of the page</span>{/if}</p>
            {#if n.fix}<p class="text-sm text-soft">{n.fix}</p>{/if}
          </li>
        {/each}
        {#each faults as f (f)}
          <li class="px-4 py-2.5">
            <p><span class="text-bad">{f.what}</span> <span class="font-mono text-[13px] text-soft">{f.path}:{f.line}</span></p>
            <p class="text-sm text-soft">{f.fix}</p>
          </li>
        {/each}
      </ul>
    {/if}

    {#if taken.remotes.length}
      <h3 class="mt-6 mb-2 font-semibold">Files from other servers <span class="text-sm font-normal text-soft tabular-nums">{taken.remotes.length}</span></h3>
      <ul class="divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
        {#each taken.remotes as r (r.address)}
          <li class="flex flex-wrap items-center gap-x-4 gap-y-2 px-4 py-2.5">
            <div class="min-w-0 flex-1 basis-64">
              <p class="truncate font-mono text-[13px]" title={r.address}>{r.address}</p>
              <p class="text-sm text-soft">{r.kind}, {intake.copies[r.address] ? `${states.copied} as ${intake.copies[r.address].path}` : states[r.state]}</p>
            </div>
            {#if intake.copies[r.address]}
              <Button kind="plain" onclick={() => intake.drop(r.address)}>Delete the copy</Button>
            {:else if accepts[r.kind]}
              {#if (r.kind == "image" || r.kind == "script") && /^(https?:)?\/\//.test(r.address)}
                <label class="flex items-center gap-2 text-sm"><input type="checkbox" class="size-4 accent-teal" checked={r.state == "kept"} onchange={(e) => intake.keeps(r.address, e.currentTarget.checked)} />Load it from there</label>
              {/if}
              <label class="inline-flex min-h-9 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-4 py-1.5 font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk">
                <input type="file" class="sr-only" accept={accepts[r.kind]} onchange={(e) => e.currentTarget.files?.[0] && intake.bring(r.address, r.kind, e.currentTarget.files[0])} />Add a copy
              </label>
            {/if}
          </li>
        {/each}
      </ul>
    {/if}

    {#if done.length}
      <details class="mt-6">
        <summary class="cursor-pointer font-semibold">Automatic changes <span class="text-sm font-normal text-soft tabular-nums">{done.length}</span></summary>
        <ul class="mt-2 space-y-1 text-sm">
          {#each done as n (n)}<li>{n.what} {#if n.line}<span class="text-soft">line {n.line}</span>{/if}</li>{/each}
        </ul>
      </details>
    {/if}
  </div>

  <aside class="min-w-0 space-y-6">
    {@render children()}
    {#if taken.parts.length}
      <label class="block">
        <span class="mb-1 block font-medium">Part to import</span>
        <select class="field" value={intake.part} onchange={(e) => intake.choose(e.currentTarget.value)}>
          <option value="">The whole page</option>
          {#each taken.parts as p (p.selector)}<option value={p.selector}>{p.selector}: {p.name || "no words"} ({size(p.bytes)})</option>{/each}
        </select>
      </label>
    {/if}
    <fieldset>
      <legend class="mb-1 font-medium">Fix</legend>
      {#each repairs as m (m.kind)}
        <label class="flex items-baseline gap-2 py-0.5"><input type="checkbox" class="size-4 translate-y-0.5 accent-teal" checked={!intake.leave.includes(m.kind)} onchange={(e) => intake.fixes(m.kind, e.currentTarget.checked)} />{m.label}</label>
      {/each}
    </fieldset>
    <button type="button" class="rounded text-sm text-teal underline-offset-4 hover:underline" onclick={() => intake.again()}>Import another page</button>
  </aside>
</section>
