import { useSearchParams } from 'react-router';
import { PageHead } from '../shell/page-head.tsx';
import { StrokeTable } from './stroke-table.tsx';
import { HOW_TO, HANDS, WORDS } from './help-texts.ts';

/** Words, keystrokes and how to: all here, also without a network. */
export function HelpPage() {
  const [asked] = useSearchParams();
  return (
    <main className="page">
      <PageHead />
      <div className="help">
        <section>
          <h2>How to</h2>
          {HOW_TO.map(({ task, steps }) => (
            <details key={task} open={asked.get('task') === task || undefined}>
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
          <StrokeTable />
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
