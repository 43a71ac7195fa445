<script lang="ts">
  import GoOn from "./begun/GoOn.svelte";
  import Gallery from "./gallery/Gallery.svelte";
  import PocketList from "./pockets/PocketList.svelte";
  import { router } from "./router.svelte";
  import Join from "./session/Join.svelte";
  import { session } from "./session/session.svelte";
  import SignIn from "./session/SignIn.svelte";
  import Header from "./ui/Header.svelte";
  import Trouble from "./ui/Trouble.svelte";

  // With a folder there is one widget and nothing else.
  $effect(() => {
    if (session.who?.folder && router.widget != session.who.widget) router.go(`/worktop/${session.who.widget}`);
  });
  // What is large is loaded where it is used; the worktop brings the code editor with it.
  const worktop = () => import("./worktop/Worktop.svelte");
  const editor = () => import("./editor/Editor.svelte");
  if (router.key) void editor().catch(() => {}); // while it is asked who is signed in
  const newWidget = () => import("./worktop/NewWidget.svelte");
  const customers = () => import("./customers/Customers.svelte");
  const widgets = () => import("./worktop/WidgetList.svelte");
</script>

{#if session.trouble}
  <Trouble error={new Error(session.trouble)} retry={() => session.look()} />
{:else if router.path == "/join"}
  <Join />
{:else if session.who === null || (session.guest && router.path == "/sign-in")}
  <SignIn />
{:else if session.who && router.path == "/begun"}
  <GoOn />
{:else if session.who}
  {#if router.key}
    {#await editor() then { default: Editor }}
      {#key router.key}<Editor key={router.key!} publicBase={session.who.publicBase} />{/key}
    {:catch}
      <Header />
      <Trouble error={new Error("The editor could not be loaded.")} retry={() => location.reload()} />
    {/await}
  {:else if session.guest || router.path == "/gallery"}
    <Gallery />
  {:else if router.customer || router.path == "/customers"}
    {#await customers() then { default: Customers }}
      {#key router.customer}<Customers id={router.customer ?? ""} />{/key}
    {/await}
  {:else if router.widget}
    {#await worktop() then { default: Worktop }}
      {#key router.widget}<Worktop name={router.widget!} publicBase={session.who.publicBase} />{/key}
    {:catch}
      <Header />
      <Trouble error={new Error("The worktop could not be loaded.")} retry={() => location.reload()} />
    {/await}
  {:else if router.path == "/new-widget"}
    {#await newWidget() then { default: NewWidget }}<NewWidget />{/await}
  {:else if router.path == "/worktop"}
    {#await widgets() then { default: WidgetList }}<WidgetList />{/await}
  {:else if router.path == "/" || router.path == "/sign-in"}
    <PocketList />
  {:else}
    <Header />
    <Trouble error={new Error("There is no such page in the console.")} retry={() => router.go("/")} />
  {/if}
{/if}
