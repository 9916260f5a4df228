import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import { HEADERS } from '../server/src/http/security-headers.ts';
import { workerBundles } from './build/worker-bundles.ts';

const WORKERS = [
  'src/picture/picture-worker.ts',
  'src/picture/hand-worker.ts',
  'src/prepare/scene-worker.ts',
];

export default defineConfig({
  plugins: [workerBundles(WORKERS), vue()],
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 1500,
    reportCompressedSize: false,
    // Loading a module of the core does nothing but define what it exports, so that what is not used is not even looked at.
    rolldownOptions: { treeshake: { moduleSideEffects: (id) => !id.includes('/core/src/') } },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' }, headers: HEADERS },
});
