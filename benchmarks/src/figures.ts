/** The table of docs/benchmarks.md: rows of a run take the place of those that measured the same, and say on which commit. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import type { Row } from './measure.ts';

/** `npm run bench` runs in benchmarks/. */
const ROOT = '..';
const FILE = `${ROOT}/docs/benchmarks.md`;
const HEAD =
  '| work | against | measured | to reach | reached | commit |\n| --- | --- | --- | --- | --- | --- |';
/** What the figures of a row must change by to be named: a fifth. */
const FELL = 0.2;

const cellsOf = (line: string) =>
  line
    .split('|')
    .slice(1, -1)
    .map((cell) => cell.trim());
const keyOf = ([work, against]: readonly string[]) => `${work!} | ${against!}`;
const lineOf = (cells: readonly string[]) => `| ${cells.join(' | ')} |`;

/** The first number of a text, or null. */
function numberIn(text: string): number | null {
  const found = /\d[\d,]*(\.\d+)?/.exec(text);
  return found ? Number(found[0].replaceAll(',', '')) : null;
}

/** A sentence where a figure is worse by more than a fifth, or null. */
function fallOf(before: readonly string[], row: Row): string | null {
  const [was, is] = [numberIn(before[2] ?? ''), numberIn(row.measured)];
  if (was === null || is === null || was === 0 || is === 0) return null;
  const worse = row.toReach.startsWith('≥') ? was / is : is / was;
  return worse > 1 + FELL ? `${row.work}, ${row.against}: ${before[2]!} before, ${row.measured} now` : null;
}

/** The text of the document with the rows in its table, and what fell. */
function withRows(text: string, rows: readonly Row[], commit: string) {
  const lines = text.split('\n');
  const first = lines.findIndex((line) => line.startsWith('| work'));
  let end = first;
  while (lines[end]?.startsWith('|')) end += 1;
  const table = lines.slice(first + 2, end).map(cellsOf);
  const fell: string[] = [];
  for (const row of rows) {
    const cells = [row.work, row.against, row.measured, row.toReach, row.reached ? 'yes' : 'not yet', commit];
    // Rows that go by the one above them (“the same”) are written by hand, and stay.
    const at = table.findIndex((known) => keyOf(known) === keyOf(cells));
    const fall = fallOf(table[at] ?? [], row);
    if (fall !== null) fell.push(fall);
    table.splice(at < 0 ? table.length : at, at < 0 ? 0 : 1, cells);
  }
  const body = table.map((cells) => lineOf(cells.length < 6 ? [...cells, 'earlier'] : cells));
  return { text: [...lines.slice(0, first), HEAD, ...body, ...lines.slice(end)].join('\n'), fell };
}

/** Writes rows into the document; prints what fell by more than a fifth. */
export function writeRows(rows: readonly Row[]): void {
  const git = (...words: string[]) =>
    execFileSync('git', ['-C', ROOT, ...words], { encoding: 'utf8' }).trim();
  const changed = git('status', '--porcelain', '--untracked-files=no', '--', 'core', 'app', 'server') !== '';
  const commit = git('rev-parse', '--short', 'HEAD') + (changed ? ' and changes' : '');
  const { text, fell } = withRows(readFileSync(FILE, 'utf8'), rows, commit);
  writeFileSync(FILE, text);
  execFileSync('npx', ['prettier', '--write', FILE]);
  console.log(
    fell.length === 0
      ? 'Nothing fell by more than a fifth.'
      : `Fell by more than a fifth:\n${fell.join('\n')}`,
  );
}
