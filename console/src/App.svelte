<script lang="ts">
  import Editor from "./editor/Editor.svelte";
  import PocketList from "./pockets/PocketList.svelte";
  import { router } from "./router.svelte";
  import { session } from "./session/session.svelte";
  import SignIn from "./session/SignIn.svelte";
  import Header from "./ui/Header.svelte";
  import Trouble from "./ui/Trouble.svelte";

  session.look();
</script>

{#if session.trouble}
  <Trouble error={new Error(session.trouble)} retry={() => session.look()} />
{:else if session.who === null}
  <SignIn />
{:else if session.who}
  {#if router.key}
    {#key router.key}<Editor key={router.key} publicBase={session.who.publicBase} />{/key}
  {:else if router.path == "/"}
    <PocketList />
  {:else}
    <Header />
    <Trouble error={new Error("There is no such page in the console.")} retry={() => router.go("/")} />
  {/if}
{/if}
