import { useEffect, useRef, useState } from 'react';
import { repeatableSteps } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { SaveRoutine } from './save-routine.tsx';

/** Each step named; any of them can be returned to. */
export function HistoryList() {
  const steps = useBench((state) => state.session.steps);
  const at = useBench((state) => state.session.at);
  const list = useRef<HTMLOListElement>(null);
  const [saving, setSaving] = useState(false);
  const repeatable = repeatableSteps({ steps }).some((place) => place <= at);
  useEffect(() => {
    list.current?.querySelector('[aria-current="step"]')?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  return (
    <section className="history" aria-label="History">
      <div className="history-head">
        <h3>History</h3>
        {repeatable && (
          <button type="button" className="link" onClick={() => setSaving(true)}>
            Save as routine …
          </button>
        )}
      </div>
      {saving && <SaveRoutine onClose={() => setSaving(false)} />}
      <ol ref={list}>
        {steps.map((step, i) => (
          <li key={i}>
            <button
              type="button"
              className={i > at ? 'undone' : undefined}
              aria-current={i === at ? 'step' : undefined}
              onClick={() => bench.goTo(i)}
            >
              {step.label}
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
