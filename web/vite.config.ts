import tailwindcss from "@tailwindcss/vite"
import react from "@vitejs/plugin-react"
import { VitePWA } from "vite-plugin-pwa"
import { createHash } from "node:crypto"
import { readFileSync } from "node:fs"
import { resolve } from "node:path"
import { defineConfig } from "vitest/config"

/** What a phone keeps of the application is what was built, or is not kept: the browser itself holds each file against its sum. */
const withSums = <Entry extends { url: string }>(entries: Entry[]) => ({
  manifest: entries.map((one) => ({
    ...one,
    integrity: `sha384-${createHash("sha384")
      .update(readFileSync(resolve("dist", one.url)))
      .digest("base64")}`,
  })),
})

const pwa = VitePWA({
  registerType: "prompt",
  injectRegister: null,
  manifest: {
    name: "Toad Bell",
    short_name: "Toad Bell",
    description: "Hydrostatic testing of small pressure vessels",
    id: "/",
    start_url: "/",
    display: "standalone",
    background_color: "#f3f1e7",
    theme_color: "#1e6153",
    icons: [
      { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
      { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
      { src: "/icon-512-mask.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
    ],
  },
  workbox: {
    globPatterns: ["**/*.{js,css,html,woff2,svg,png}"],
    navigateFallback: "/index.html",
    navigateFallbackDenylist: [/^\/api\//, /^\/enter\//, /^\/workshop\.crt/, /^\/static\//],
    cleanupOutdatedCaches: true,
    manifestTransforms: [withSums],
  },
})

export default defineConfig({
  plugins: [react(), tailwindcss(), pwa],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 600 },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
  test: { environment: "node", isolate: false, include: ["src/**/*.test.{ts,tsx}"] },
})
