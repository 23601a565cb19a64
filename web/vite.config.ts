import tailwindcss from "@tailwindcss/vite"
import react from "@vitejs/plugin-react"
import { defineConfig } from "vitest/config"

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 600 },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
  test: { environment: "node", isolate: false, include: ["src/**/*.test.{ts,tsx}"] },
})
