// Stand-ins for the parts of a browser that modules use while they are imported. Tests run without
// a browser.
import { vi } from "vitest";

vi.stubGlobal("location", new URL("http://console.example/"));
vi.stubGlobal("addEventListener", () => {});
