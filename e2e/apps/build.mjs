// Builds one of the programs with a component that was printed: node build.mjs FRAMEWORK
// COMPONENT OUT.
import { cpSync, mkdirSync, rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { svelte } from "@sveltejs/vite-plugin-svelte";
import vue from "@vitejs/plugin-vue";
import { build } from "vite";

const [framework, component, out] = process.argv.slice(2);
const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, ".built", `${framework}-${process.pid}`);
mkdirSync(root, { recursive: true });
cpSync(join(here, framework), root, { recursive: true });
cpSync(component, join(root, component.split("/").pop()));
await build({
  root,
  logLevel: "error",
  plugins: { react: [], vue: [vue()], svelte: [svelte({ configFile: false })] }[framework],
  oxc: { jsx: { runtime: "automatic" } },
  build: { outDir: out, emptyOutDir: true, minify: false },
});
rmSync(root, { recursive: true });
