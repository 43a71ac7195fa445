import { focusArrival } from "./ui/focus";

// The console's own addresses: "/", "/gallery", "/pockets/KEY" with the steps "/install" and
// "/history", "/customers", "/customers/ID",
// "/hosts", "/hosts/NAME", "/worktop", "/worktop/WIDGET", "/new-widget", and where links lead: "/join", "/resume", "/steps".
export type Step = "set" | "install" | "history";

class Router {
  path = $state(location.pathname);

  constructor() {
    addEventListener("popstate", () => {
      if (this.path != location.pathname) focusArrival();
      this.path = location.pathname;
    });
  }

  // query goes behind the address, for a page that begins with a search, say.
  go(path: string, query?: Record<string, string>) {
    if (path != this.path || query) {
      history.pushState(null, "", query ? `${path}?${new URLSearchParams(query)}` : path);
      focusArrival();
    }
    this.path = location.pathname; // without what stands behind a #
    scrollTo(0, 0);
  }

  // For a link: follow it here unless the visitor wants it elsewhere.
  follow = (event: MouseEvent) => {
    const link = (event.currentTarget as HTMLElement).closest("a")!;
    if (event.button || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    this.go(new URL(link.href).pathname);
  };

  // The pocket's key, and what is done with it.
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
