/** Writes the published JSON Schemas in docs/formats from the shapes in core: `npm run formats`. */
import {mkdirSync, writeFileSync} from 'node:fs';
import * as z from 'zod';
import {snapshotShape} from '@core/snapshot/snapshot';

const here = new URL('../docs/formats/', import.meta.url);
mkdirSync(here, {recursive: true});
writeFileSync(new URL('snapshot.schema.json', here), JSON.stringify(z.toJSONSchema(snapshotShape), null, 2) + '\n');
