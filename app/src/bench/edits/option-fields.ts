/** Reading an edit's Zod schema as form fields: kind, title, unit, range and default. */
import type { z } from 'zod';

export interface OptionField {
  readonly name: string;
  readonly kind:
    | 'number'
    | 'boolean'
    | 'choice'
    | 'text'
    | 'numbers'
    | 'names'
    | 'sequence'
    | 'control'
    | 'placement'
    | 'other';
  readonly title: string;
  readonly description: string;
  readonly unit: string;
  readonly step: number | undefined;
  readonly min: number | undefined;
  readonly max: number | undefined;
  /** Whether it is turned with a slider too, over powers of ten. */
  readonly slider: boolean;
  /** Values and the words for them. */
  readonly choices: readonly { readonly value: string; readonly words: string }[];
  readonly initial: unknown;
  readonly optional: boolean;
  /** Other options and the values of theirs with which this one means something, or several such ways; left out, it always does. */
  readonly when: When | readonly When[] | undefined;
  /** For the name of a control: of which kind it must be, where that is asked, and what it is where none is named. */
  readonly nodeKind: string | undefined;
  readonly empty: string | undefined;
  /** What the shot must have for it to mean something; left out, nothing. */
  readonly onlyWith: ShotTrait | undefined;
}

type When = Readonly<Record<string, unknown>>;

/** What some shots have: captured ones have no pose columns but those added by hand. */
export type ShotTrait = 'columns';

/** What a schema that wraps another carries; Zod's public definitions. */
interface Definition {
  readonly type: string;
  readonly innerType?: z.ZodType;
  /** Of a list. */
  readonly element?: z.ZodType;
  readonly defaultValue?: unknown;
  readonly entries?: Readonly<Record<string, string>>;
}

const KINDS: Readonly<Record<string, OptionField['kind']>> = {
  number: 'number',
  boolean: 'boolean',
  enum: 'choice',
  string: 'text',
};

export function optionFields(schema: z.ZodObject): OptionField[] {
  return Object.entries(schema.shape).map(([name, given]) => {
    let field = given as z.ZodType;
    let meta = field.meta();
    let initial: unknown;
    let optional = false;
    for (;;) {
      const { type, innerType, defaultValue } = field.def as Definition;
      if (!innerType || !['default', 'optional', 'nullable'].includes(type)) break;
      if (type === 'default') initial = defaultValue;
      if (type === 'optional') optional = true;
      field = innerType;
      meta = { ...field.meta(), ...meta };
    }
    const definition = field.def as Definition;
    const labels = (meta?.['labels'] ?? {}) as Readonly<Record<string, string>>;
    const range = field as unknown as { minValue?: number | null; maxValue?: number | null };
    const finite = (value: number | null | undefined) =>
      value !== null && value !== undefined && Number.isFinite(value) ? value : undefined;
    return {
      name,
      kind: kindBySaying(meta) ?? listKind(definition) ?? KINDS[definition.type] ?? 'other',
      slider: meta?.['slider'] === true,
      nodeKind:
        typeof meta?.['control'] === 'string' && meta['control'] !== 'node' ? meta['control'] : undefined,
      empty: typeof meta?.['empty'] === 'string' ? meta['empty'] : undefined,
      title: typeof meta?.title === 'string' ? meta.title : name,
      description: meta?.description ?? '',
      unit: typeof meta?.['unit'] === 'string' ? meta['unit'] : '',
      step: typeof meta?.['step'] === 'number' ? meta['step'] : undefined,
      min: finite(range.minValue),
      max: finite(range.maxValue),
      choices: Object.values(definition.entries ?? {}).map((value) => ({
        value,
        words: labels[value] ?? inWords(value),
      })),
      initial,
      optional,
      when: meta?.['when'] as OptionField['when'],
      onlyWith: meta?.['onlyWith'] as OptionField['onlyWith'],
    };
  });
}

/** Whether an option means something beside the others, in a shot with these traits. */
export function isMeant(
  { when, onlyWith }: OptionField,
  options: Readonly<Record<string, unknown>>,
  traits: ReadonlySet<ShotTrait>,
): boolean {
  if (onlyWith !== undefined && !traits.has(onlyWith)) return false;
  const ways: readonly When[] =
    when === undefined ? [{}] : Array.isArray(when) ? (when as readonly When[]) : [when as When];
  return ways.some((way) =>
    Object.entries(way).every(([name, wanted]) =>
      (Array.isArray(wanted) ? wanted : [wanted]).includes(options[name]),
    ),
  );
}

/** What a schema says of itself: numbers in their order, or the name of a control or a placement. */
const kindBySaying = (meta: Readonly<Record<string, unknown>> | undefined) =>
  (['sequence', 'control', 'placement'] as const).find((kind) => meta?.[kind]) ?? null;

/** Lists of numbers are frames, lists of words are controls. */
function listKind({ type, element }: Definition): 'numbers' | 'names' | null {
  if (type !== 'array') return null;
  const of = (element?.def as Definition | undefined)?.type;
  return of === 'number' ? 'numbers' : of === 'string' ? 'names' : null;
}

/** `carryOn` is “carry on”. */
const inWords = (name: string) => name.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);

/** The defaults of all fields that have one. */
export function initialOptions(schema: z.ZodObject): Record<string, unknown> {
  return Object.fromEntries(
    optionFields(schema)
      .filter(({ initial }) => initial !== undefined)
      .map(({ name, initial }) => [name, initial]),
  );
}
