/**
 * Sent with every answer, by the server and by the development server. Scripts come from here and from nowhere else, and evaluate no text; WebAssembly may be
 * compiled. The page is isolated from others, which is what shared memory asks for.
 */
export const HEADERS: Record<string, string> = {
  'content-security-policy':
    "script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; worker-src 'self'; img-src 'self' blob: data:; frame-ancestors 'none'",
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-embedder-policy': 'require-corp',
  'cross-origin-resource-policy': 'same-origin',
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
};
