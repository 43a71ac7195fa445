declare const __BASE__: string;

// Fetches one of the service's own scripts. A template keeps the bundler from looking for it.
export const load = (what: string) => import(`${__BASE__}/${what}.js`);
