// For pages with pockets in frames: gives each frame the height of its content, which the pocket's
// page reports (tell.ts). It only accepts messages from frames of the service.
declare const __BASE__: string;

const pages = __BASE__ + "/p/";
const most = 5000;

function frames() {
  const found: HTMLIFrameElement[] = [];
  for (const frame of document.querySelectorAll("iframe")) if (frame.src.startsWith(pages)) found.push(frame);
  return found;
}

addEventListener("message", ({ data, source }) => {
  const height = data?.glassPocketHeight;
  if (!(height > 0)) return;
  for (const frame of frames()) if (frame.contentWindow == source) frame.style.height = Math.min(Math.ceil(height), most) + "px";
});
// Asks frames that reported before this script was loaded to report again.
for (const frame of frames()) frame.contentWindow?.postMessage({ glassPocketAsks: 1 }, "*");
export {};
