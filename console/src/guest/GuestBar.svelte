<script lang="ts">
  // Tells guests how long their pocket is kept, and offers an account.
  import { guestPocket, linkOf } from "./guest";

  let { signUp }: { signUp: () => void } = $props();
  const it = guestPocket.get();
  let copied = $state(false);
  const until = it && new Intl.DateTimeFormat("en", { dateStyle: "long" }).format(Date.parse(it.until));
  async function copy() {
    await navigator.clipboard.writeText(linkOf(it!));
    copied = true;
  }
</script>

<div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-wash px-5 py-2.5 text-sm">
  <p class="min-w-0 flex-1 max-sm:basis-full">
    You can edit this without an account.{#if it}{" "}It is kept until {until}, and longer with each change.{/if}
  </p>
  {#if it}<button type="button" class="rounded underline underline-offset-4" onclick={copy}>{copied ? "Link copied" : "Copy link for another device"}</button>{/if}
  <button type="button" class="rounded font-medium underline underline-offset-4" onclick={signUp}>Sign up</button>
  <span class="sr-only" role="status">{copied ? "Link copied." : ""}</span>
</div>
