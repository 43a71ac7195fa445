// What travels in /s/KEY.js and /s/KEY.json. Numbered: a loader reads every number up to
// its own, and a released number never changes its meaning.
export interface Payload {
  n: number;
  key: string;
  publication: number;
  language: string;
  direction: "ltr" | "rtl";
  built: number; // milliseconds since 1970: when the service rendered this
  markup: string;
  style: string;
  look: { properties: Record<string, string>; attributes: Record<string, string> };
  settings: Record<string, unknown>;
  messages: Record<string, Record<string, string>>;
}

// What a widget's mount module is given.
export interface Pocket {
  root: HTMLElement;
  settings: Record<string, unknown>;
  say(key: string, count?: number): string;
  now(): number;
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
}

// The one global. Loaders of different versions share what is in it.
export interface Global {
  n: number;
  pockets: Map<string, { payload: Payload; module?: Module; own: Element[] }>; // own: made at scripts' tags
  live: Map<Element, Instance>;
  said: Record<string, 1>;
  take(payload: Payload, module?: Module): void;
  auto(): void;
  drop(key: string): void;
}
