/**
 * Prints all rows as a table: `npm run bench`, or `npm run bench -- thinning` for those of one file; with `--write` they go into docs/benchmarks.md,
 * with the commit that they were measured on.
 */
import { atHandRows } from './at-hand.ts';
import { comparingRows } from './comparing.ts';
import { curveLaneRows } from './curve-lane.ts';
import { draggingRows } from './dragging.ts';
import { writeRows } from './figures.ts';
import { goalsRows } from './goals.ts';
import { growthRows } from './growth.ts';
import { largeShotRows } from './large-shot.ts';
import { layersRows } from './layers.ts';
import type { Row } from './measure.ts';
import { manyShotsRows } from './many-shots.ts';
import { mappingRows } from './mapping.ts';
import { motionRows } from './motion.ts';
import { oneEditRows } from './one-edit.ts';
import { pantryRows } from './pantry.ts';
import { parsingRows } from './parsing.ts';
import { pointerToPictureRows } from './pointer-to-picture.ts';
import { relationsRows } from './relations.ts';
import { samplingRows } from './sampling.ts';
import { sliderStepRows } from './slider-step.ts';
import { thinningRows } from './thinning.ts';

const ALL = {
  sampling: samplingRows,
  parsing: parsingRows,
  'slider-step': sliderStepRows,
  'one-edit': oneEditRows,
  layers: layersRows,
  relations: relationsRows,
  goals: goalsRows,
  mapping: mappingRows,
  comparing: comparingRows,
  motion: motionRows,
  growth: growthRows,
  thinning: thinningRows,
  'curve-lane': curveLaneRows,
  dragging: draggingRows,
  'pointer-to-picture': pointerToPictureRows,
  'at-hand': atHandRows,
  'many-shots': manyShotsRows,
  pantry: pantryRows,
  'large-shot': largeShotRows,
};

const write = process.argv.includes('--write');
const asked = process.argv.slice(2).filter((word) => word !== '--write');
const unknown = asked.filter((name) => !(name in ALL));
if (unknown.length > 0) {
  console.error(`There is no benchmark “${unknown[0]!}”: ${Object.keys(ALL).join(', ')} are.`);
  process.exit(2);
}
console.log('| work | against | measured | to reach | reached |\n|---|---|---|---|---|');
const measured: Row[] = [];
for (const [name, rows] of Object.entries(ALL)) {
  if (asked.length > 0 && !asked.includes(name)) continue;
  for (const row of await rows()) {
    measured.push(row);
    const { work, against, toReach, reached } = row;
    console.log(`| ${work} | ${against} | ${row.measured} | ${toReach} | ${reached ? 'yes' : 'not yet'} |`);
  }
}
if (write) writeRows(measured);
