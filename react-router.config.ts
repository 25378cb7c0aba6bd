import type { Config } from '@react-router/dev/config';

// All routes are known to the page from the first: a bench opens at once, also while the server is away.
export default { ssr: true, appDirectory: 'app', buildDirectory: 'build/pages', routeDiscovery: { mode: 'initial' } } satisfies Config;
