import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";

export default defineConfig(({ mode }) => {
  const { USKEL_SERVER = "http://127.0.0.1:8460" } = loadEnv(mode, ".", "USKEL_");
  return {
    plugins: [react(), tailwindcss()],
    build: { target: "es2023", manifest: true, emptyOutDir: true },
    server: { proxy: { "/api": { target: USKEL_SERVER, changeOrigin: true } } },
  };
});
