import type { Measure, Report } from '@kneader/core';
import { bench } from '../bench-store.ts';
import { readable, withUnit } from './numbers.ts';

/** What an edit did, or would do, in numbers and sentences. Places are links to their frame. */
export function ReportView({ report, tried }: { readonly report: Report; readonly tried: boolean }) {
  const main = report.measures.filter(isMain);
  return (
    <div className={`report ${report.status}`} role="status" aria-label="Report">
      {report.status === 'unchanged' && report.findings.length === 0 && (
        <p className="soft">{tried ? 'This changes nothing.' : 'Nothing was changed.'}</p>
      )}
      <dl>
        {main.map((measure, i) => (
          <div key={i}>
            <dt>{measure.name}</dt>
            <dd>
              {measure.before !== undefined && `${readable(measure.before, measure.unit)} → `}
              {withUnit(measure.value, measure.unit)}
              <Where measure={measure} />
            </dd>
          </div>
        ))}
      </dl>
      {report.findings.map(({ code, sentence }, i) => (
        <p key={`${code} ${i}`} className={report.status === 'refused' ? 'refusal' : 'finding'}>
          {sentence}
        </p>
      ))}
    </div>
  );
}

/** Measures of single channels are for files; the panel shows what holds for all. */
const BY_CHANNEL = new Set(['greatest error', 'RMS error', 'carried on']);
const isMain = ({ name }: Measure) => !BY_CHANNEL.has(name);

function Where({ measure }: { readonly measure: Measure }) {
  const { where } = measure;
  const frame = where?.frame;
  if (!where || frame === undefined) return null;
  return (
    <button type="button" className="where" onClick={() => bench.setFrame(frame)}>
      {where.channel ?? where.node} @ {Math.round(frame)}
    </button>
  );
}
