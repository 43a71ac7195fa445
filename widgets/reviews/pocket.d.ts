// What this widget's mount function gets. Made by “glasspocket types”; make it anew when
// widget.json or settings.json have changed.

export interface Settings {
  /** Layout */
  layout: "carousel" | "grid" | "list" | "single" | "badge" | "wall";
  /** At first */
  shown?: number;
  /** Shorten long texts */
  shorten: boolean;
  /** Turns by itself */
  plays?: boolean;
  /** Pause between two */
  pause?: {
    iso: string;
    seconds: number;
  };
}

export type Message = "all" | "part" | "pauseName" | "place" | "playName" | "whole";

export interface Facts {
}

export interface Pocket {
  /** The widget's own root. Look everything up from here; two copies on a page then never meet. */
  root: HTMLElement;
  /** The settings that the manifest's "mount" lists, as the page may have overridden them. */
  settings: Settings;
  /** The language of the messages, as a BCP 47 tag. */
  language: string;
  /** A message that the manifest's "mount" lists, in the plural form for count. */
  say(message: Message, count?: number): string;
  /** The time in milliseconds since 1970, set right by the service's clock where it is known. */
  now(): number;
  /** Asks for the service's clock, once a page; tick is called whenever that changes now(). */
  exact(tick: () => void): void;
  /**
   * What is remembered of a visitor: until the page is left, and for that many days where the page
   * says that the visitor has agreed. changed is called when read may say more than before.
   */
  memory: { read(): unknown; write(data: unknown, days: number): void; changed(callback: () => void): void };
  /** Takes the widget out of the page's sight, or back into it. */
  hide(hidden: boolean): void;
  /** Tells the page: an event glass-pocket:NAME at the mount point. */
  tell(name: string, detail?: unknown): void;
  /**
   * Called when the page sends such an event to the mount point, when another copy of the pocket
   * tells it, or on a click on an element that bears data-glass-NAME="KEY" with the pocket's key;
   * that element is given.
   */
  hear(name: string, callback: (by?: Element) => void): void;
  /** Tells how far the visitor has read, from 0 to 1, now and whenever it changes. */
  reading(callback: (depth: number) => void): void;
  /** Tells how many pixels of the window's top and bottom the page's own bars take. */
  edges(callback: (taken: { top: number; bottom: number }) => void): void;
  /** Aborted when the widget is taken out of the page. Give it to every listener outside of root. */
  signal: AbortSignal;
}
