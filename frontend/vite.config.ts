import react from "@vitejs/plugin-react";
import { compression, defineAlgorithm } from "vite-plugin-compression2";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [
    react(),
    // beside each text file the same packed: the server sends what the browser takes
    compression({
      include: /\.(js|css|svg)$/,
      algorithms: [defineAlgorithm("gzip", { level: 9 }), "brotliCompress"],
      threshold: 1000,
    }),
  ],
  html: { cspNonce: "__CSP_NONCE__" },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: { proxy: { "/api": "http://127.0.0.1:8350" } },
  // one worker thread for all files: starting a process for each can take longer than a busy machine is given
  test: {
    environment: "jsdom",
    globals: true,
    setupFiles: "src/shared/testing.ts",
    pool: "threads",
    maxWorkers: 1,
    isolate: false,
    testTimeout: 60_000, // how fast a busy machine is, is not what is tested
  },
});
