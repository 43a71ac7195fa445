import { focusArrival } from "./ui/focus";

// The console's routes: "/", "/gallery", "/pockets/KEY" with the steps "/install" and "/history",
// "/customers", "/customers/ID", "/hosts", "/hosts/NAME", "/worktop", "/worktop/WIDGET",
// "/new-widget", "/work", and those of links: "/join", "/resume", "/steps".
export type Step = "set" | "install" | "history";

class Router {
  path = $state(location.pathname);

  constructor() {
    addEventListener("popstate", () => {
      if (this.path != location.pathname) focusArrival();
      this.path = location.pathname;
    });
  }

  // query is added to the address, for example for a page that starts with a search.
  go(path: string, query?: Record<string, string>) {
    if (path != this.path || query) {
      history.pushState(null, "", query ? `${path}?${new URLSearchParams(query)}` : path);
      focusArrival();
    }
    this.path = location.pathname; // without the fragment
    scrollTo(0, 0);
  }

  // For a link: follows it within the console, unless the user opens it in another tab.
  follow = (event: MouseEvent) => {
    const link = (event.currentTarget as HTMLElement).closest("a")!;
    if (event.button || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    this.go(new URL(link.href).pathname);
  };

  // The pocket's key, and the step.
  get key(): string | undefined {
    return this.#pocket?.[1] && decodeURIComponent(this.#pocket[1]);
  }

  get step(): Step {
    return (this.#pocket?.[2] ?? "set") as Step;
  }

  get #pocket() {
    return /^\/pockets\/([^/]+)(?:\/(install|history))?$/.exec(this.path);
  }

  get customer(): string | undefined {
    return this.#under("customers");
  }

  get host(): string | undefined {
    return this.#under("hosts");
  }

  get widget(): string | undefined {
    return this.#under("worktop");
  }

  #under(place: string): string | undefined {
    const match = new RegExp(`^/${place}/([^/]+)$`).exec(this.path);
    return match ? decodeURIComponent(match[1]) : undefined;
  }
}

export const router = new Router();
