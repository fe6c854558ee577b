import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { tessaryGeoTiff } from './terrain';

// Writes data/tessary.tif anew: npx tsx --tsconfig packages/server/tsconfig.json packages/server/src/demo/makeTerrain.ts
writeFileSync(join(import.meta.dirname, '../../data/tessary.tif'), Buffer.from(tessaryGeoTiff()));
