import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = process.env.TIN_SADDLE_SERVER ?? "http://127.0.0.1:8000";

export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react()],
  server: { proxy: { "/api": { target: server, changeOrigin: false } } },
  build: {
    assetsInlineLimit: 0,
    manifest: true,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: "react", test: /node_modules[\\/](react|react-dom|react-router|scheduler)[\\/]/, priority: 3 },
            { name: "plan", test: /node_modules[\\/]ol[\\/]/, priority: 3 },
            { name: "antd", test: /node_modules[\\/](antd|@ant-design|@rc-component|rc-)/, entriesAware: true, priority: 1 },
          ],
        },
      },
    },
  },
}));
