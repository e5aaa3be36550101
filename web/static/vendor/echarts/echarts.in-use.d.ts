// What `charts.js` uses of the library, for the check of types; its own are of no use to it, since it is one minified file.
export function init(element: Element, theme?: unknown, options?: Record<string, unknown>): any;
