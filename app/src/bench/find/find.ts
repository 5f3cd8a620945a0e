/** Finding what the bench can do by what it is called, by what it does, and by other words of the trade. */

export interface Findable {
  /** Unique among all: `edit clean.thin`, `filter step`, `stroke arcs`. */
  readonly id: string;
  readonly title: string;
  /** What it does, a sentence. */
  readonly says: string;
  /** What else it is called. */
  readonly words: string;
  /** Where it belongs, shown behind its title. */
  readonly where: string;
  /** How much it counts beside the others, 0…1, 1 where left out: a sentence holds many words by chance. */
  readonly counts?: number;
}

/** Some words are written in two ways, and with or without their ends. */
const ENDINGS = /(ising|izing|ations?|ings?|ise[ds]?|ize[ds]?|ed|es|s)$/;
function stem(word: string): string {
  const plain = word.replace(/our/g, 'or');
  const cut = plain.replace(ENDINGS, '');
  return cut.length >= 3 ? cut : plain;
}

const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .replace(/[-’']/g, '')
    .split(/[^a-z0-9]+/)
    .filter(Boolean);

/** Small words say nothing of what is sought. */
const SMALL = new Set('a an the to of in on at for my me it is and or with how do i make'.split(' '));

/** How well one word fits one text: as one of its words, as the beginning of one, or not at all. */
function fit(words: readonly string[], sought: string): number {
  let best = 0;
  for (const word of words) {
    if (word === sought) return 1;
    if (stem(word) === stem(sought) || word.startsWith(sought)) best = 0.7;
  }
  return best;
}

/** How much it counts where a word fits: in the title, among the other words, in what is said. */
const [TITLE, WORDS, SAYS, WHERE] = [8, 6, 2, 1];

function worth(item: Findable, sought: readonly string[], text: string): number {
  const [title, words, says, where] = [item.title, item.words, item.says, item.where].map(wordsOf) as [
    string[],
    string[],
    string[],
    string[],
  ];
  let sum = 0;
  for (const word of sought) {
    const best = Math.max(
      TITLE * fit(title, word),
      WORDS * fit(words, word),
      SAYS * fit(says, word),
      WHERE * fit(where, word),
    );
    if (best === 0) return 0;
    sum += best;
  }
  // Said as a whole it is meant: its title, or words that stand together among the others.
  if (title.join(' ') === text) sum += 20;
  else if (` ${words.join(' ')} `.includes(` ${text} `)) sum += text.includes(' ') ? 6 : 1;
  if (title[0] === sought[0]) sum += 0.4;
  // Of two that fit alike the one that says nothing else.
  return (sum - title.length * 0.05) * (item.counts ?? 1);
}

/** What all the words speak of, the best fit first; all of it where nothing is asked. */
export function found<Item extends Findable>(items: readonly Item[], asked: string): readonly Item[] {
  const all = wordsOf(asked);
  const meant = all.filter((word) => !SMALL.has(word));
  const sought = meant.length > 0 ? meant : all;
  if (sought.length === 0) return items;
  const text = all.join(' ');
  return items
    .map((item) => ({ item, worth: worth(item, sought, text) }))
    .filter((one) => one.worth > 0)
    .sort((a, b) => b.worth - a.worth)
    .map(({ item }) => item);
}
