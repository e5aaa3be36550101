// What the scripts take as given beside the browser's own types: libraries that the pages load, and that events of a page come from its
// elements. Checked by `tsc`, never served to anybody.
declare const htmx: { trigger(element: Element | Document | string, name: string, detail?: unknown): void; ajax(...given: unknown[]): Promise<void>; process(element: Element): void; config: Record<string, unknown>; onLoad(done: (element: Element) => void): void };
declare const bootstrap: Record<string, any>;

interface EventTarget {
  closest: any;
  matches: any;
  getAttribute(name: string): string | null;
  setAttribute(name: string, value: string): void;
  toggleAttribute(name: string, force?: boolean): boolean;
  dataset: DOMStringMap;
  value: any;
  id: string;
  name: string;
  form: HTMLFormElement | null;
  action: string;
  open: boolean;
}

interface Element {
  dataset: DOMStringMap;
  style: CSSStyleDeclaration;
  value: any;
  defaultValue: string;
  name: string;
  checked: boolean;
  chart: any;
}

interface Event {
  detail: any;
  // Of `deviceorientation`, the last one of Safari's.
  alpha?: number | null;
  beta?: number | null;
  gamma?: number | null;
  webkitCompassHeading?: number;
}

