/** What a worker thread of `kneader routine --jobs` runs: see `routine-file.ts`. */
export { runOnFile as default } from './routine-file.ts';
