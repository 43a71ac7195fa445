<script lang="ts">
  // Background work, for operators: what waits, what runs, and what has failed and why.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Task, TaskKind } from "../api/types";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Segments from "../ui/Segments.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { ago, exactly } from "../ui/time";
  import { when } from "./when";

  const views = [
    { value: "", label: "All" },
    { value: "waiting", label: "Waiting" },
    { value: "running", label: "Running" },
    { value: "failed", label: "Failed" },
  ];
  const empty: Record<string, string> = { "": "There are no tasks yet.", waiting: "No tasks are waiting.", running: "No tasks are running.", failed: "No tasks have failed." };

  let view = $state("");
  let tasks = $state.raw<Task[]>([]);
  let kinds = $state.raw<TaskKind[]>([]);
  let next = $state("");
  let loaded = $state(false);
  let error = $state<Error | null>(null);
  let trouble = $state("");

  async function load(more = false) {
    const asked = view;
    try {
      const page = await api.tasks(asked, more ? next : "");
      if (asked != view) return;
      tasks = more ? [...tasks, ...page.tasks] : page.tasks;
      kinds = page.kinds;
      next = page.next ?? "";
      error = null;
      loaded = true;
    } catch (failed) {
      session.expire(failed);
      error = failed as Error;
    }
  }
  $effect(() => {
    void view;
    void load();
  });

  async function act(does: Promise<unknown>) {
    trouble = "";
    try {
      await does;
    } catch (failed) {
      session.expire(failed);
      trouble = explain(failed);
    }
    await load();
  }

  const named = (kind: string) => kinds.find((k) => k.name == kind)?.about ?? kind;
  const total = (state: "waiting" | "running" | "failed") => kinds.reduce((n, k) => n + k[state], 0);
</script>

<svelte:head><title>Background work · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-5xl px-5 py-10">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-2xl font-semibold tracking-tight">Background work</h1>
    <Button kind="plain" onclick={() => load()}>Refresh</Button>
  </div>
  <p class="mt-1 max-w-2xl text-balance text-soft">The service does these tasks by itself. If one fails, it tries again, less and less often.</p>
  {#if error}
    <Trouble {error} retry={() => load()} />
  {:else}
    <div class="mt-6 flex flex-wrap items-center gap-x-6 gap-y-3">
      <Segments value={view} options={views} label="Show" onchange={(value) => (view = value)} />
      {#if loaded}<p class="text-sm text-soft" role="status">{total("waiting")} waiting, {total("running")} running, {total("failed")} failed</p>{/if}
    </div>
    {#if trouble}<p role="alert" class="mt-4 text-bad">{trouble}</p>{/if}
    {#if loaded && tasks.length == 0}
      <p class="mt-4 rounded-xl border border-line bg-sheet px-8 py-12 text-soft">{empty[view]}</p>
    {:else if loaded}
      <ul class="mt-4 divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
        {#each tasks as t (t.id)}
          <li class="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-3">
            <div class="min-w-0 flex-1 basis-72">
              <p class="font-medium wrap-anywhere">{named(t.kind)}{#if t.of}<span class="ms-2 font-mono text-[13px] font-normal text-soft">{t.of}</span>{/if}</p>
              <p class="text-sm text-soft">
                Task {t.id}{#if t.customer}, {t.customer}{/if}{#if t.by}, started by {t.by}{/if}
              </p>
              {#if t.why}<p class={["mt-1 text-sm wrap-anywhere", t.state == "failed" ? "text-bad" : "text-soft"]}>{t.why} {t.hint ?? ""}</p>{/if}
            </div>
            <p class="text-sm text-soft" title={exactly(t.endedAt ?? t.due)}>{when(t)}{#if t.attempts > 1}<br />Attempt {t.attempts}{/if}</p>
            {#if t.state == "waiting" || t.state == "failed"}<Button kind="plain" onclick={() => act(api.runTask(t.id))} aria-label={`Run task ${t.id} now`}>{t.state == "failed" ? "Run again" : "Run now"}</Button>{/if}
            {#if (t.state == "waiting" || t.state == "running") && !t.recurs}<Button kind="plain" onclick={() => act(api.cancelTask(t.id))} aria-label={`Cancel task ${t.id}`}>Cancel</Button>{/if}
          </li>
        {/each}
      </ul>
      {#if next}<button type="button" class="mt-3 rounded text-sm underline underline-offset-4" onclick={() => load(true)}>Show older</button>{/if}
    {/if}
  {/if}
</main>
