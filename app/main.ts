import './zod-without-eval';

/** What the first view is made of comes side by side; a part that fails here is asked for again, and told, by the router. */
const parts = [
  () => import('./shell/shell.component'),
  ...(location.pathname === '/' ? [() => import('./fleet/fleet.component')] : []),
];
for (const load of parts) load().catch(() => undefined);

import('./boot').then(({boot}) => boot()).catch((error: unknown) => console.error(error));
