import type { Payload } from "../types";

// The place of a pocket in the gallery, in CSS pixels of the frame. scale is its size compared with
// a page.
export interface Cell {
  id: string;
  left: number;
  top: number;
  width: number;
  height: number;
  scale: number;
  most: number; // largest height; the response has the height that it needs
  floats: boolean; // it is above the page
}

export type GalleryOrder = { lay: Cell[]; height: number } | { draw: { id: string; payload: Payload & { module?: string } }[] };

// drawn: it has been mounted, and laid out if it is visible. laidOut: the number of pockets that
// are laid out so far, visible or not. heights: the height that each needs, in CSS pixels of the
// frame, including the space around it.
export type GalleryAnswer = { ready: true } | { drawn: string } | { laidOut: number } | { heights: Record<string, number> } | { failed: string; why: string };
