/**
 * BVH text to a tree of joints and rows of numbers, with the line of whatever is wrong.
 *
 * The motion is most of the file, so its numbers are read straight from the characters, without cutting the text
 * into words first.
 */
import { refuse } from '../../base/finding.ts';

export interface BvhJoint {
  readonly name: string;
  readonly parent: number;
  readonly offset: readonly [number, number, number];
  /** `Xposition` … `Zrotation`, as the file spells and orders them. */
  readonly channels: readonly string[];
  /** Where an end site stands, or null. */
  readonly endSite: readonly [number, number, number] | null;
}

export interface BvhFile {
  readonly joints: readonly BvhJoint[];
  readonly frameTime: number;
  readonly announced: number;
  /** Number of whole rows. */
  readonly rows: number;
  /** Rows one after the other. */
  readonly motion: Float64Array;
  readonly width: number;
}

interface OpenJoint {
  name: string;
  parent: number;
  offset: [number, number, number];
  channels: string[];
  endSite: [number, number, number] | null;
}

const [LF, CR] = [10, 13];

/** Whether the character ends a line: LF, or CR that no LF follows. */
const endsLine = (text: string, at: number) => {
  const code = text.charCodeAt(at);
  return code === LF || (code === CR && text.charCodeAt(at + 1) !== LF);
};

function lineEnd(text: string, from: number): number {
  let at = from;
  while (at < text.length && text.charCodeAt(at) !== LF && text.charCodeAt(at) !== CR) at += 1;
  return at;
}

/** Some programs write remarks; no number and no word of the format begins like one. */
const isComment = (text: string, at: number) =>
  text[at] === '#' || (text[at] === '/' && text[at + 1] === '/');

/** A cursor over the text that knows its line. */
class Words {
  private at = 0;
  private line = 1;

  constructor(private readonly text: string) {}

  get place() {
    return { line: this.line };
  }

  get position() {
    return this.at;
  }

  /** The next word, or '' at the end. */
  next(): string {
    const { text } = this;
    for (;;) {
      while (this.at < text.length && text.charCodeAt(this.at) <= 32) {
        if (endsLine(text, this.at)) this.line += 1;
        this.at += 1;
      }
      if (!isComment(text, this.at)) break;
      this.at = lineEnd(text, this.at);
    }
    const start = this.at;
    while (this.at < text.length && text.charCodeAt(this.at) > 32) this.at += 1;
    return text.slice(start, this.at);
  }

  /** The rest of the line, for names that hold blanks. */
  restOfLine(): string {
    const rest = this.text.slice(this.at, lineEnd(this.text, this.at));
    this.at += rest.length;
    return rest.trim();
  }

  expect(word: string): void {
    const got = this.next();
    if (got.toUpperCase() === word) return;
    if (got === '') refuse('bvhEndsEarly', this.place, word);
    refuse('bvhExpected', this.place, word, shorten(got));
  }

  number(): number {
    const got = this.next();
    const value = Number(got);
    if (got === '') refuse('bvhEndsEarly', this.place, 'a number');
    if (!Number.isFinite(value)) refuse('bvhBadNumber', this.place, shorten(got));
    return value;
  }

  vector(): [number, number, number] {
    return [this.number(), this.number(), this.number()];
  }
}

const shorten = (word: string) => (word.length > 24 ? `${word.slice(0, 24)}…` : word);
const CHANNEL = /^[XYZ](position|rotation|scale)$/i;
const MOST_CHANNELS = 9;
const DEEPEST = 500;

/** Parses a BVH file; throws an `InputError` with the line of what is wrong. */
export function parseBvh(text: string): BvhFile {
  if (text.trim() === '') refuse('fileEmpty', {});
  const words = new Words(text);
  words.expect('HIERARCHY');
  const joints: OpenJoint[] = [];
  let word = words.next();
  while (word.toUpperCase() === 'ROOT') {
    parseJoint(words, joints, -1, 0);
    word = words.next();
  }
  if (joints.length === 0) refuse('bvhExpected', words.place, 'ROOT', shorten(word));
  if (word.toUpperCase() !== 'MOTION') {
    if (word === '') refuse('bvhEndsEarly', words.place, 'MOTION');
    refuse('bvhExpected', words.place, 'MOTION', shorten(word));
  }
  words.expect('FRAMES:');
  const announced = words.number();
  words.expect('FRAME');
  words.expect('TIME:');
  const frameTime = words.number();
  if (!(frameTime > 0)) refuse('badDocument', words.place, 'Frame Time', 'it must be more than 0 seconds');
  const width = joints.reduce((sum, joint) => sum + joint.channels.length, 0);
  const { motion, rows } = parseMotion(text, words.position, words.place.line, width);
  return { joints, frameTime, announced, rows, motion, width };
}

function parseJoint(words: Words, joints: OpenJoint[], parent: number, depth: number): void {
  if (depth > DEEPEST) refuse('bvhTooDeep', words.place);
  const name = words.restOfLine().replace(/\s*\{\s*$/, '');
  const joint: OpenJoint = { name, parent, offset: [0, 0, 0], channels: [], endSite: null };
  if (name === '') refuse('bvhExpected', words.place, 'the name of a joint', 'nothing');
  const index = joints.push(joint) - 1;
  let word = words.next();
  if (word === '{') word = words.next();
  for (;;) {
    switch (word.toUpperCase()) {
      case 'OFFSET':
        joint.offset = words.vector();
        break;
      case 'CHANNELS': {
        const count = words.number();
        if (!Number.isInteger(count) || count < 0 || count > MOST_CHANNELS) {
          refuse(
            'bvhExpected',
            words.place,
            `a number of channels from 0 to ${MOST_CHANNELS}`,
            String(count),
          );
        }
        for (let i = 0; i < count; i += 1) {
          const channel = words.next();
          if (channel === '') refuse('bvhEndsEarly', words.place, 'a channel');
          if (!CHANNEL.test(channel)) refuse('bvhBadChannel', words.place, shorten(channel));
          if (joint.channels.some((known) => known.toLowerCase() === channel.toLowerCase()))
            refuse('bvhTwice', words.place, channel);
          joint.channels.push(channel);
        }
        break;
      }
      case 'JOINT':
        parseJoint(words, joints, index, depth + 1);
        break;
      case 'END': {
        words.restOfLine();
        words.expect('{');
        const inside = words.next();
        // An empty one says that the joint has no child, and nothing more.
        if (inside === '}') break;
        if (inside.toUpperCase() !== 'OFFSET') refuse('bvhExpected', words.place, 'OFFSET', shorten(inside));
        joint.endSite = words.vector();
        words.expect('}');
        break;
      }
      case '}':
        return;
      case '':
        refuse('bvhEndsEarly', words.place, '“}”');
        break;
      default:
        refuse('bvhExpected', words.place, 'OFFSET, CHANNELS, JOINT, End Site or “}”', shorten(word));
    }
    word = words.next();
  }
}

/**
 * All numbers from `at` on, in rows of `width`. A row may go on on the next line; one of another length is refused, but for the last:
 * a file that was cut short loses that row alone.
 */
function parseMotion(text: string, at: number, firstLine: number, width: number) {
  let line = firstLine;
  let capacity = Math.max(1024, Math.ceil((text.length - at) / 6));
  let motion = new Float64Array(capacity);
  let count = 0;
  let inRow = 0;
  /** Where the row began, and how many values its first line has. */
  let [rowLine, inFirstLine] = [line, 0];
  const endLine = () => {
    if (inFirstLine === 0) inFirstLine = inRow;
    if (inRow > width) refuse('bvhRowLength', { line: rowLine }, inFirstLine, width);
    if (inRow === width) inRow = inFirstLine = 0;
  };
  const length = text.length;
  while (at < length) {
    const code = text.charCodeAt(at);
    if (code <= 32) {
      if (endsLine(text, at)) {
        endLine();
        line += 1;
      }
      at += 1;
      continue;
    }
    if (isComment(text, at)) {
      at = lineEnd(text, at);
      continue;
    }
    if (inRow === 0) rowLine = line;
    const start = at;
    // Decimal digits are gathered here; anything else in the word goes to Number().
    let digits = 0;
    let value = 0;
    let point = -1;
    let plain = true;
    const negative = code === 45;
    if (negative || code === 43) at += 1;
    for (; at < length; at += 1) {
      const next = text.charCodeAt(at);
      if (next >= 48 && next <= 57) {
        value = value * 10 + (next - 48);
        digits += 1;
      } else if (next === 46 && point < 0) point = digits;
      else if (next <= 32) break;
      else plain = false;
    }
    // Up to 15 digits and 22 places both factors are exact, so the quotient is the nearest double (Clinger 1990).
    if (plain && digits > 0 && digits <= 15) {
      const places = point < 0 ? 0 : digits - point;
      value = (negative ? -value : value) / POWERS[places]!;
    } else {
      const word = text.slice(start, at);
      value = Number(word);
      if (!Number.isFinite(value)) refuse('bvhBadNumber', { line }, shorten(word));
    }
    if (count === capacity) {
      capacity *= 2;
      const larger = new Float64Array(capacity);
      larger.set(motion);
      motion = larger;
    }
    motion[count] = value;
    count += 1;
    inRow += 1;
  }
  // The last line may lack its end.
  if (inRow > width) endLine();
  if (width === 0) return { motion: new Float64Array(0), rows: 0 };
  return { motion: motion.subarray(0, count), rows: Math.floor(count / width) };
}

const POWERS = Array.from({ length: 16 }, (_, i) => 10 ** i);
