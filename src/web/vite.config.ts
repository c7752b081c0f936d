import tailwind from "@tailwindcss/vite";
import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vite";

const server = process.env.CENOTIC_WEB ?? "http://127.0.0.1:5080";

export default defineConfig({
  plugins: [vue(), tailwind()],
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  build: { assetsInlineLimit: 0 },
  server: { port: 5173, proxy: { "/api": server, "/live": { target: server, ws: true } } },
});
