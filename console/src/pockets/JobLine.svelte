<script lang="ts">
  // The progress of a job, and what failed.
  import type { Job } from "../api/types";
  import { router } from "../router.svelte";
  import type { Jobs } from "./jobs.svelte";

  let { job, jobs }: { job: Job; jobs: Jobs } = $props();
  const verbs: Record<string, [string, string]> = {
    publish: ["Publishing", "published"],
    unpublish: ["Unpublishing", "unpublished"],
    move: ["Moving to a release", "moved"],
    duplicate: ["Duplicating", "duplicated"],
    delete: ["Deleting", "deleted"],
    import: ["Importing", "imported"],
  };
  const through = $derived(job.done + job.failed);
</script>

<div class="rounded-xl border border-line bg-sheet px-5 py-3.5">
  <div class="flex items-center justify-between gap-4">
    <p role="status" class="font-medium">
      {#if job.state == "running"}{verbs[job.does][0]} {job.of.toLocaleString("en")} {job.of == 1 ? "pocket" : "pockets"}…{:else if job.state == "cancelled"}Cancelled: {job.done.toLocaleString("en")} of {job.of.toLocaleString("en")} were {verbs[job.does][1]}{:else}{job.done.toLocaleString("en")} {job.done == 1 ? "pocket" : "pockets"} {verbs[job.does][1]}{#if job.failed}, {job.failed.toLocaleString("en")} not{/if}{/if}
    </p>
    {#if job.state == "running"}
      <button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => jobs.cancel(job.id)}>Cancel</button>
    {:else}
      <button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => jobs.drop(job.id)}>Close</button>
    {/if}
  </div>
  {#if job.state == "running"}
    <progress class="mt-2 block h-1.5 w-full appearance-none overflow-hidden rounded-full bg-sunk accent-teal [&::-webkit-progress-bar]:bg-sunk [&::-webkit-progress-value]:bg-teal" max={job.of} value={through} aria-label="Progress"></progress>
    <p class="mt-1 text-sm text-soft tabular-nums">{through.toLocaleString("en")} of {job.of.toLocaleString("en")}{#if job.failed}, {job.failed.toLocaleString("en")} failed{/if}</p>
  {/if}
  {#if job.made?.length}
    <p class="mt-1 text-sm">
      {#each job.made.slice(0, 5) as item, i (item.made)}{i ? ", " : ""}<a class="underline underline-offset-4" href={`/pockets/${item.made}`} onclick={router.follow}>{item.made}</a>{/each}{#if job.made.length > 5}{" "}and {job.made.length - 5} more{/if}
    </p>
  {/if}
  {#if job.failures?.length}
    <details class="mt-1 text-sm">
      <summary class="cursor-pointer rounded text-bad">Failed pockets</summary>
      <ul class="mt-1 space-y-1">
        {#each job.failures as item, i (i)}<li><span class="font-medium">{item.key || `Number ${i + 1}`}</span>: {item.why} <span class="text-soft">{item.hint}</span></li>{/each}
      </ul>
    </details>
  {/if}
</div>
