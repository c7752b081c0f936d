// Packs the files of a folder with Brotli (RFC 7932), each beside itself; what gets hardly smaller stays as it is.
import { readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants } from "node:zlib";

const [folder] = process.argv.slice(2);
for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
  if (!entry.isFile() || !/\.(js|css|svg|json|txt|html)$/.test(entry.name)) continue;
  const path = join(entry.parentPath, entry.name);
  const plain = readFileSync(path);
  const packed = brotliCompressSync(plain, {
    params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: plain.length },
  });
  if (packed.length < plain.length * 0.9) writeFileSync(`${path}.br`, packed);
}
