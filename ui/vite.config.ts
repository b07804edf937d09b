import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig(({ mode }) => {
  const { USKEL_SERVER = "http://127.0.0.1:8460" } = loadEnv(mode, ".", "USKEL_");
  return {
    plugins: [
      react(),
      tailwindcss(),
      VitePWA({
        injectRegister: false,
        manifest: {
          name: "Uskel",
          short_name: "Uskel",
          description: "Hand washing, measured",
          display: "standalone",
          background_color: "#f4efe4",
          theme_color: "#0f625c",
          icons: [{ src: "/mark.svg", sizes: "any", type: "image/svg+xml" }],
        },
        workbox: {
          globPatterns: ["**/*.{js,css,html,svg,woff2,wasm}"],
          maximumFileSizeToCacheInBytes: 8_000_000, // the core
          navigateFallback: "/index.html",
          navigateFallbackDenylist: [/^\/api\//],
          clientsClaim: true,
          skipWaiting: false,
        },
      }),
    ],
    worker: { format: "es" },
    build: { target: "es2023", manifest: true, emptyOutDir: true },
    server: { proxy: { "/api": { target: USKEL_SERVER, changeOrigin: true } } },
  };
});
