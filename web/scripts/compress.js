// Compresses the page's files once, with care, so that the server need not do it for each request.
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { constants, gzipSync } from 'node:zlib';

/** Fonts and pictures are compressed already. */
const TEXT = /\.(js|css|html|svg|json|txt)$/;
/** Below this there is nothing to gain. */
const LEAST_BYTES = 1000;

for (const name of readdirSync('dist', { recursive: true })) {
  const file = join('dist', name);
  if (!TEXT.test(file) || statSync(file).size < LEAST_BYTES) continue;
  writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: constants.Z_BEST_COMPRESSION }));
}
