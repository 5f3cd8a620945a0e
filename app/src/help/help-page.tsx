import { PageHead } from '../shell/page-head.tsx';
import { SHORTCUTS } from '../bench/shortcuts.ts';
import type { Shortcut } from '../bench/shortcuts.ts';
import { HOW_TO, HANDS, WORDS } from './help-texts.ts';

const GROUPS: readonly Shortcut['group'][] = ['Time', 'Keys', 'Curves in sight', 'Compare', 'History'];

/** Words, keystrokes and how to: all here, also without a network. */
export function HelpPage() {
  return (
    <main className="page">
      <PageHead />
      <div className="help">
        <section>
          <h2>How to</h2>
          {HOW_TO.map(({ task, steps }) => (
            <details key={task}>
              <summary>{task}</summary>
              <ol>
                {steps.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            </details>
          ))}
          <h2>Hands</h2>
          <dl>
            {HANDS.map(([hand, does]) => (
              <div key={hand}>
                <dt>{hand}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
        <section>
          <h2>Keystrokes on the bench</h2>
          {GROUPS.map((group) => (
            <div key={group}>
              <h3>{group}</h3>
              <dl>
                {SHORTCUTS.filter((shortcut) => shortcut.group === group).map(({ press, does }) => (
                  <div key={press}>
                    <dt>
                      <kbd>{inWords(press)}</kbd>
                    </dt>
                    <dd>{does}</dd>
                  </div>
                ))}
              </dl>
            </div>
          ))}
        </section>
        <section>
          <h2>Words</h2>
          <dl>
            {WORDS.map(([word, means]) => (
              <div key={word}>
                <dt>{word}</dt>
                <dd>{means}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </main>
  );
}

const ARROWS: Readonly<Record<string, string>> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
};

/** `Shift+ArrowLeft` is “Shift ←”. */
const inWords = (press: string): string =>
  press
    .replace(/Arrow\w+/, (name) => ARROWS[name] ?? name)
    .replace(/\+(?=.)/g, ' ')
    .trim();
