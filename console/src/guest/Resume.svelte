<script lang="ts">
  // The page of a guest pocket's link: continues with the pocket.
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { guestPocket } from "./guest";

  let error = $state<Error | null>(null);
  async function resume() {
    error = null;
    const secret = location.hash.slice(1);
    try {
      if (!secret) throw new Refused(404, "draft-not-found", "This link is incomplete.", "Copy the complete link again.");
      if (session.who?.customer) {
        // Users with an account claim it.
        const taken = await api.claim(secret);
        guestPocket.set(null);
        return router.go(`/pockets/${taken.key}`);
      }
      const it = await api.resumeGuestPocket(secret);
      guestPocket.set({ key: it.pocket.key, secret, until: it.until });
      await session.look();
      router.go(`/pockets/${it.pocket.key}`);
    } catch (e) {
      error = e as Error;
    }
  }
  resume();
</script>

<svelte:head><title>Resume · Glass Pocket</title></svelte:head>
<Header />
{#if error instanceof Refused && error.status == 404}<Trouble {error} retry={() => router.go("/gallery")} words="Go to the gallery" />{:else if error}<Trouble {error} retry={resume} />{:else}<p class="p-10 text-center text-soft" role="status">One moment…</p>{/if}
