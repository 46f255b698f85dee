import { defineConfig } from "vite";

/** The web's rules as one file for Node, which its tests ask. */
export default defineConfig({
  logLevel: "error",
  build: { ssr: "rules/rules.ts", outDir: process.env.RULES_OUT ?? "../.local/rules", emptyOutDir: true, minify: false, target: "node20" },
  ssr: { noExternal: true },
});
