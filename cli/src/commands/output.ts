/** Where commands speak: what was asked for, and what is said beside it. */
export interface Output {
  readonly print: (text: string) => void;
  readonly warn: (text: string) => void;
}
