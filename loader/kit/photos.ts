// Images that open in a dialog of the view: <button data-photo> with an <img> in it. The images in
// the same [data-photos], or else the button alone, are one series.
import { panel } from "./panel";
import type { Pocket } from "./types";

export function photos(pocket: Pocket) {
  const { root } = pocket;
  panel(pocket);
  pocket.photos = (box: HTMLDialogElement) => {
    const large = box.querySelector("img")!;
    const back = box.querySelector<HTMLButtonElement>(".back");
    const on = box.querySelector<HTMLButtonElement>(".on");
    let series: HTMLElement[] = [];
    let at = 0;
    const shown = (pocket.panel as any)(box, () => large.removeAttribute("src")); // stops loading
    function show(to: number) {
      at = (to + series.length) % series.length;
      const image = series[at].querySelector("img")!;
      large.removeAttribute("srcset");
      large.src = image.src;
      large.sizes = "100vw";
      large.srcset = image.srcset;
      large.alt = image.alt;
      for (const name of ["width", "height"]) large.setAttribute(name, image.getAttribute(name) || "");
    }
    root.addEventListener("click", (event) => {
      const button = (event.target as Element).closest<HTMLElement>("[data-photo]");
      if (!button) return;
      series = [...(button.closest("[data-photos]")?.querySelectorAll<HTMLElement>("[data-photo]") || [button])];
      if (back && on) back.hidden = on.hidden = !series[1];
      show(series.indexOf(button));
      shown.open(button);
    });
    back?.addEventListener("click", () => show(at - 1));
    on?.addEventListener("click", () => show(at + 1));
    box.addEventListener("keydown", ({ key }) => {
      const step = root.dir == "rtl" ? -1 : 1;
      if (key == "ArrowRight") show(at + step);
      if (key == "ArrowLeft") show(at - step);
    });
  };
}
