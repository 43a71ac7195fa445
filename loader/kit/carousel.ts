// A track that scrolls sideways and snaps, with buttons, keys, and automatic advance. Touch and mouse
// work without a script.
import { follow } from "./track";
import type { Pocket } from "./types";

export interface Controls {
  bar: HTMLElement; // contains the buttons; hidden while all cards fit
  back: HTMLButtonElement;
  on: HTMLButtonElement;
  play?: HTMLButtonElement; // pauses and continues; shown if the track advances automatically
  every?: number; // seconds between steps; 0 for no automatic advance
  moved?(here: number, last: boolean): void; // the nearest card's index, at once and whenever it changes
  paused?(paused: boolean): void;
}

export function carousel(pocket: Pocket) {
  const { root, signal } = pocket;
  pocket.carousel = (cards: HTMLElement, { bar, back, on, play, every, moved, paused }: Controls) => {
    const paging = follow(cards, root.dir == "rtl", signal, (here, first, last) => {
      bar.hidden = first && last;
      const focused = (root.getRootNode() as ShadowRoot).activeElement;
      back.disabled = first;
      on.disabled = last;
      // If a button is disabled, move its focus to the other one.
      if (focused == back && first) on.focus();
      if (focused == on && last) back.focus();
      moved?.(here, last);
    });
    back.addEventListener("click", () => paging.by(-1));
    on.addEventListener("click", () => paging.by(1));

    // Advances while nobody interacts.
    const still = matchMedia("(prefers-reduced-motion: reduce)");
    if (!every || !play || still.matches || !cards.children[1]) return paging;
    let pointed = false;
    let focused = false;
    let stopped = false;
    play.hidden = false;
    play.addEventListener("click", () => {
      play.dataset.paused = String((stopped = !stopped));
      paused?.(stopped);
    });
    root.addEventListener("pointerenter", () => (pointed = true));
    root.addEventListener("pointerleave", () => (pointed = false));
    root.addEventListener("focusin", () => (focused = true));
    root.addEventListener("focusout", () => (focused = false));
    const timer = setInterval(() => {
      if (pointed || focused || stopped || still.matches || document.hidden) return;
      if (on.disabled) paging.to(0);
      else paging.by(1);
    }, every * 1000);
    signal.addEventListener("abort", () => clearInterval(timer));
    return paging;
  };
}
