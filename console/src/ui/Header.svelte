<script lang="ts">
  import type { Snippet } from "svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";

  let { children, actions }: { children?: Snippet; actions?: Snippet } = $props();
</script>

<header class="flex min-h-14 flex-wrap items-center gap-x-3 gap-y-2 border-b border-line bg-sheet px-5 py-2">
  <a href="/" onclick={router.follow} class="flex items-center gap-2.5 rounded font-semibold tracking-tight" aria-label="Glass Pocket: all pockets"><img src="/mark.svg" alt="" class="size-6" />{#if !children}Glass Pocket{/if}</a>
  {@render children?.()}
  {#if !children && session.who && !session.who.folder && !session.guest}
    <nav aria-label="Console" class="ms-3 flex flex-wrap gap-1 max-sm:-mx-1.5 max-sm:gap-0">
      {#each [["/", "Pockets"], ["/gallery", "Gallery"], session.operator ? ["/customers", "Customers"] : [`/customers/${session.who.customer}`, "Business"], ...(session.operator ? [["/hosts", "Hosts"], ["/worktop", "Worktop"], ["/work", "Tasks"]] : [])] as [path, label] (path)}
        <a href={path} onclick={router.follow} aria-current={router.path == path || (path == "/customers" && router.customer) || (path == "/hosts" && router.host) ? "page" : undefined} class="rounded-lg px-3 py-1.5 text-soft max-sm:px-1.5 max-sm:text-sm hover:text-ink aria-[current]:bg-sunk aria-[current]:font-medium aria-[current]:text-ink">{label}</a>
      {/each}
    </nav>
  {/if}
  <div class="ms-auto flex items-center gap-3">
    {@render actions?.()}
    {#if session.guest}
      <a href="/sign-in" onclick={router.follow} class="rounded px-2 py-1 text-soft underline-offset-4 hover:text-ink hover:underline">Sign in</a>
    {:else if !actions && session.who && !session.who.folder}
      <span class="text-soft">{session.who.name}</span>
      <button type="button" class="rounded px-2 py-1 text-soft underline-offset-4 hover:text-ink hover:underline" onclick={() => session.signOut()}>Sign out</button>
    {/if}
  </div>
</header>
