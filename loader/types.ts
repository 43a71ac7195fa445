// The content of /s/KEY.js and /s/KEY.json. It is versioned: a loader reads every version up to its
// own, and a released version never changes its meaning.
export interface Payload {
  n: number;
  key: string;
  publication: number;
  language: string;
  direction: "ltr" | "rtl";
  built: number; // milliseconds since 1970: when the service rendered this
  published?: number; // milliseconds since 1970; since version 2
  release?: number; // since version 2
  markup: string;
  style: string;
  look: { properties: Record<string, string>; attributes: Record<string, string>; fonts?: { family: string; address: string }[] };
  settings: Record<string, unknown>;
  messages: Record<string, Record<string, string>>;
  // Replaces the parts with the same names if screen, a media query, matches; read by the kit,
  // whatever the version.
  small?: { screen: string; markup: string; attributes: Record<string, string>; settings: Record<string, unknown> };
}

// Data about a visitor; see memory.ts.
export interface Memory {
  read(): unknown;
  write(data: unknown, days: number): void;
  changed(callback: () => void): void; // called when the visitor has agreed, and read() may return more
}

// The argument of a widget's mount function.
export interface Pocket {
  root: HTMLElement;
  settings: Record<string, unknown>;
  language: string;
  say(key: string, count?: number): string;
  now(): number;
  exact(tick: () => void): void;
  memory: Memory;
  hide(hidden: boolean): void;
  signal: AbortSignal;
}

// The bundled mount module: it passes its function to the callback.
export type Module = (give: (mount: (pocket: Pocket) => void) => void) => void;

export interface Instance {
  key: string;
  host: HTMLElement;
  own: boolean; // made at a script's tag, not by the page
  end: AbortController;
  at?: number; // performance.now() when it was mounted; since loader 2
  took?: number; // milliseconds; since loader 2
  payload?: Payload; // since loader 2
  aside?: string; // why the pocket's own rules hide it in this page, a sentence; set by the kit
  consent?(): void; // the page's consent has changed; since loader 2
}

// The only global. Loaders of different versions share its content.
export interface Global {
  n: number;
  pockets: Map<string, { payload: Payload; module?: Module; own: Element[] }>; // own: those made at scripts' tags
  live: Map<Element, Instance>;
  said: Record<string, 1>;
  // The page's clock; since loader 2.
  clock: { offset: number; ticks: Set<() => void>; set?: number; look?(): void };
  html?: { createHTML(markup: string): string }; // the page's only Trusted Types policy; since loader 2
  take(payload: Payload, module?: Module): void;
  auto(): void;
  drop(key: string): void;
}
