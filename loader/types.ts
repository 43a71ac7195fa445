// What travels in /s/KEY.js and /s/KEY.json. Numbered: a loader reads every number up to
// its own, and a released number never changes its meaning.
export interface Payload {
  n: number;
  key: string;
  publication: number;
  language: string;
  direction: "ltr" | "rtl";
  built: number; // milliseconds since 1970: when the service rendered this
  published?: number; // milliseconds since 1970; since number 2
  release?: number; // since number 2
  markup: string;
  style: string;
  look: { properties: Record<string, string>; attributes: Record<string, string>; fonts?: { family: string; address: string }[] };
  settings: Record<string, unknown>;
  messages: Record<string, Record<string, string>>;
  // What stands in place of the parts of the same names where screen, a media query, is
  // true; read by the kit, whatever the number.
  small?: { screen: string; markup: string; attributes: Record<string, string>; settings: Record<string, unknown> };
}

// What a widget remembers of a visitor; see memory.ts.
export interface Memory {
  read(): unknown;
  write(data: unknown, days: number): void;
  changed(callback: () => void): void; // called when the visitor has agreed, and read may say more
}

// What a widget's mount module is given.
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

// The bundled mount module: it hands its function to the callback.
export type Module = (give: (mount: (pocket: Pocket) => void) => void) => void;

export interface Instance {
  key: string;
  host: HTMLElement;
  own: boolean; // made at a script's tag, not put there by the page
  end: AbortController;
  at?: number; // performance.now() when it was mounted; since loader 2
  took?: number; // milliseconds; since loader 2
  payload?: Payload; // since loader 2
  aside?: string; // why the pocket itself does not show in this page, a sentence; set by the kit
  consent?(): void; // the page's consent has changed; since loader 2
}

// The one global. Loaders of different versions share what is in it.
export interface Global {
  n: number;
  pockets: Map<string, { payload: Payload; module?: Module; own: Element[] }>; // own: made at scripts' tags
  live: Map<Element, Instance>;
  said: Record<string, 1>;
  // The page's clock; since loader 2.
  clock: { offset: number; ticks: Set<() => void>; set?: number; look?(): void };
  html?: { createHTML(markup: string): string }; // the page's one Trusted Types policy; since loader 2
  take(payload: Payload, module?: Module): void;
  auto(): void;
  drop(key: string): void;
}
