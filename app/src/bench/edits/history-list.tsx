import { useEffect, useRef } from 'react';
import { bench, useBench } from '../bench-store.ts';

/** Each step named; any of them can be returned to. */
export function HistoryList() {
  const steps = useBench((state) => state.session.steps);
  const at = useBench((state) => state.session.at);
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="step"]')?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  return (
    <section className="history" aria-label="History">
      <h3>History</h3>
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
