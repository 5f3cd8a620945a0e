/** The kinds of layers. Adding one is its file and a line here. */
import { follow } from './filters/follow.ts';
import { retime } from './filters/retime.ts';
import { shift } from './filters/shift.ts';
import { smooth } from './filters/smooth.ts';
import { spring } from './filters/spring.ts';
import { step } from './filters/step.ts';
import { stretch } from './filters/stretch.ts';
import { wobble } from './filters/wobble.ts';
import type { Layer, LayerEffect, LayerKind } from './layer.ts';
import { placement } from './placements/placement.ts';
import { offsetPass } from './passes/offset.ts';
import { replacePass } from './passes/replace.ts';

/** In the order in which they are offered. */
export const LAYER_KINDS = [
  offsetPass,
  replacePass,
  spring,
  follow,
  shift,
  stretch,
  retime,
  step,
  wobble,
  smooth,
  placement,
] as unknown as readonly LayerKind[];

const BY_NAME = new Map(LAYER_KINDS.map((kind) => [kind.kind, kind]));

/** The kind of a layer; null for one that this version does not know. */
export const kindOf = ({ kind }: Pick<Layer, 'kind'>): LayerKind | null => BY_NAME.get(kind) ?? null;

/** What it does with what lies below; one of a kind that is not known lets it through. */
export const effectOf = (layer: Pick<Layer, 'kind' | 'settings'>): LayerEffect =>
  kindOf(layer)?.effect(layer.settings) ?? 'changes';

/** Whether it is laid as a block, by edits of its own. */
export const isBlock = (layer: Pick<Layer, 'kind'>): boolean => kindOf(layer)?.isBlock ?? false;

/** Whether it is a live filter: neither keyed nor a block. One of a kind that is not known counts as one. */
export const isFilter = (layer: Pick<Layer, 'kind'>): boolean => !isKeyed(layer) && !isBlock(layer);

/** Whether keys can stand on it. */
export const isKeyed = (layer: Pick<Layer, 'kind'>): boolean => kindOf(layer)?.keyed ?? false;
