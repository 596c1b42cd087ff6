// What the modules of the interface hand to each other, for the checker of types only.

/** What is shown, in the whole interface. */
export interface State {
  page: string;
  viewport: string;
  variant: number;
  beside: number;
  slide: number;
  at: number;
  going: "down" | "up";
  zoom: number;
  sight: string;
  panel: string;
  motionless: boolean;
  scriptless: boolean;
  dark: boolean;
  finding: number | null;
  fit: boolean;
  theme: string;
  gesture: string;
  playing: boolean;
  speed: number;
  revision: number;
  faults: Fault[];
  connected: boolean;
}

export interface Fault {
  place: string;
  text: string;
  remedy: string;
}

export interface Store {
  readonly state: State;
  set(changes: Partial<State>): void;
  watch(keys: string[], draw: (state: State, before: State) => void): void;
}

export interface Viewport {
  name: string;
  width: number;
  height: number;
  clientWidth: number;
  widths: string;
  safeArea: Record<string, number>;
}

/** What can be chosen. */
export interface Outline {
  title: string;
  pages: { name: string; path: string }[];
  viewports: Viewport[];
  variants: string[];
  slides: Record<string, [number, string][]>;
  revision?: number;
}

export interface Section {
  name: string;
  top: number;
  height: number;
  past?: number;
  reach?: number;
}

export interface Finding {
  rule: string;
  level: string;
  subject: string;
  message: string;
  remedy: string;
  settings: { key: string; value: string | null }[];
  silenced: string | null;
  at: number;
  from: number;
  to: number;
}

export interface Curve {
  kind: string;
  name: string;
  names: string[];
  of: number[];
  values: (number | null)[];
  limits: number[];
}

export interface Step {
  look: string;
  start: number | null;
  back: number | null;
  words: string;
  change: string;
}

export interface CloseUp {
  words: string;
  picture: string;
  at: number;
  going: "down" | "up";
  width: number;
  height: number;
}

/** Columns of whole numbers, packed. */
export interface Packed {
  names: string[];
  rows: number;
  data: string;
}

/** A page at a viewport, as it has been measured. */
export interface View {
  page: string;
  viewport: string;
  slide: number;
  maxScroll: number;
  step: number;
  header: string | null;
  looks: string[];
  steps: Step[];
  sections: Section[];
  layers: string[];
  findings: Finding[];
  leftOut: number;
  checking?: boolean;
  contrast: { positions: number[]; curves: Curve[] };
  columns: Record<string, Int32Array>;
  gestures: Record<string, Packed>;
  paths: Map<string, Int32Array>;
  frames: { at: number; words: string; picture: string }[];
  closeUps: CloseUp[];
  [other: string]: any;
}

export interface Source {
  readonly plan: Outline;
  picture(name: string): string;
  asset(name: string): string;
  hasAsset(name: string): boolean;
  site(state: State, variant?: number): Promise<any>;
  view(state: State, variant?: number): Promise<View | null>;
  later(draw: () => void): void;
}

/** Calls a function with the view that is shown, now and whenever it is another one. */
export type ViewOf = (draw: (view: View) => void) => void;

export interface Stage {
  animations(): Animation[];
}
