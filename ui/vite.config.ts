import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = "http://127.0.0.1:8460";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { target: "es2023", manifest: true, emptyOutDir: true },
  server: { proxy: { "/api": { target: server, changeOrigin: true } } },
});
