import type { Payload } from "../types";

// Where one pocket of the gallery is drawn, in CSS pixels of the frame; scale is how much
// smaller than in a page.
export interface Cell {
  id: string;
  left: number;
  top: number;
  width: number;
  height: number;
  scale: number;
  most: number; // height that it may have; what it needs is answered
  floats: boolean; // it lies over the page
}

export type GalleryOrder = { lay: Cell[]; height: number } | { draw: { id: string; payload: Payload & { module?: string } }[] };

// drawn: it has been mounted, and is laid out if it is in sight. laidOut: how many are by now, in
// sight or not. heights: what each needs, in CSS pixels of the frame, with room around it.
export type GalleryAnswer = { ready: true } | { drawn: string } | { laidOut: number } | { heights: Record<string, number> } | { failed: string; why: string };
