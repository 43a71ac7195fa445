<script lang="ts">
  import Resume from "./guest/Resume.svelte";
  import Gallery from "./gallery/Gallery.svelte";
  import PocketList from "./pockets/PocketList.svelte";
  import { router } from "./router.svelte";
  import Join from "./session/Join.svelte";
  import { session } from "./session/session.svelte";
  import SignIn from "./session/SignIn.svelte";
  import Header from "./ui/Header.svelte";
  import Late from "./ui/Late.svelte";
  import Trouble from "./ui/Trouble.svelte";

  // With a folder, the worktop with its widget is the only page.
  $effect(() => {
    if (session.who?.folder && router.widget != session.who.widget) router.go(`/worktop/${session.who.widget}`);
  });
  // Large pages are loaded when they are opened; the worktop includes the code editor.
  const worktop = () => import("./worktop/Worktop.svelte");
  const editor = () => import("./editor/Editor.svelte");
  if (router.key) void editor().catch(() => {}); // while the session is being requested
  const newWidget = () => import("./worktop/NewWidget.svelte");
  const customers = () => import("./customers/Customers.svelte");
  const webmaster = () => import("./install/Webmaster.svelte");
  const hosts = () => import("./hosts/Hosts.svelte");
  const widgets = () => import("./worktop/WidgetList.svelte");
  const tasks = () => import("./work/Tasks.svelte");
</script>

{#if session.trouble}
  <Trouble error={new Error(session.trouble)} retry={() => session.look()} />
{:else if router.path == "/join"}
  <Join />
{:else if router.path == "/steps"}
  <Late page={webmaster} given={{}} />
{:else if session.who === null || (session.guest && router.path == "/sign-in")}
  <SignIn />
{:else if session.who && router.path == "/resume"}
  <Resume />
{:else if session.who}
  {#if router.key}
    <Late page={editor} again={router.key} given={{ key: router.key, publicBase: session.who.publicBase }} />
  {:else if session.guest || router.path == "/gallery"}
    <Gallery />
  {:else if router.customer || router.path == "/customers"}
    <Late page={customers} again={router.customer} given={{ id: router.customer ?? "" }} />
  {:else if router.widget}
    <Late page={worktop} again={router.widget} given={{ name: router.widget, publicBase: session.who.publicBase }} />
  {:else if router.host || router.path == "/hosts"}
    <Late page={hosts} again={router.host ?? ""} given={{ name: router.host ?? "" }} />
  {:else if router.path == "/work"}
    <Late page={tasks} given={{}} />
  {:else if router.path == "/new-widget"}
    <Late page={newWidget} given={{}} />
  {:else if router.path == "/worktop"}
    <Late page={widgets} given={{}} />
  {:else if router.path == "/" || router.path == "/sign-in"}
    <PocketList />
  {:else}
    <Header />
    <Trouble error={new Error("This page does not exist.")} retry={() => router.go("/")} words="Go to pockets" />
  {/if}
{/if}
