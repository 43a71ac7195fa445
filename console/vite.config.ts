import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  // dist/README is committed, so that the Go embed works before the first build.
  build: { target: "es2022", emptyOutDir: false, modulePreload: { polyfill: false } },
});
