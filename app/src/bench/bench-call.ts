/** A word from a keystroke or a button to whoever is listening on the bench: what to say it with, and how to listen. */
type Listener<Word> = (word: Word) => void;

export function benchCall<Word = void>(): [
  say: (word: Word) => void,
  listen: (listener: Listener<Word>) => () => void,
] {
  const listeners = new Set<Listener<Word>>();
  return [
    (word) => listeners.forEach((listener) => listener(word)),
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  ];
}
