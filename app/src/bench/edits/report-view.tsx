import { COST_BY_STEP, splitChannel } from '@kneader/core';
import type { Measure, Report } from '@kneader/core';
import { frameCurves } from '../bench-actions.ts';
import { bench, useBench } from '../bench-store.ts';
import { readable, withUnit } from './numbers.ts';

/** What an edit did, or would do, in numbers and sentences. Places are links to their frame. */
export function ReportView({ report, tried }: { readonly report: Report; readonly tried: boolean }) {
  const main = report.measures.filter(isMain);
  const steps = report.measures.filter(({ name }) => name === 'step');
  return (
    <div className={`report ${report.status}`} role="status" aria-label="Report">
      <Whom report={report} />
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
      {steps.length > 0 && (
        <ul className="steps" aria-label="Steps taken out">
          {steps.slice(0, MOST_STEPS).map((measure, i) => (
            <li key={i}>
              <Where measure={measure} /> {withUnit(measure.value, measure.unit)}
            </li>
          ))}
          {steps.length > MOST_STEPS && <li className="soft">and {steps.length - MOST_STEPS} more</li>}
        </ul>
      )}
      {report.findings.map(({ code, sentence }, i) => (
        <p key={`${code} ${i}`} className={report.status === 'refused' ? 'refusal' : 'finding'}>
          {sentence}
        </p>
      ))}
    </div>
  );
}

/** More names than these are counted. */
const MOST_NAMES = 4;

/** Whom it touches, where the shot has more than one who moves: figures by their names, what is of no figure by its own. */
function Whom({ report: { touched } }: { readonly report: Report }) {
  const shot = useBench((state) => state.session.shot);
  const nodes = new Map(shot.nodes.map((node) => [node.id, node]));
  const owners = new Set(
    touched.flatMap((channel) => {
      const node = nodes.get(splitChannel(channel).node);
      if (!node) return [];
      return shot.characters.find(({ id }) => id === node.character)?.name ?? node.id;
    }),
  );
  const movers =
    shot.characters.length +
    shot.nodes.filter(({ character, channels }) => character === null && channels.length > 0).length;
  if (owners.size === 0 || movers < 2) return null;
  const names = [...owners];
  return (
    <p className="soft">
      On {names.slice(0, MOST_NAMES).join(', ')}
      {names.length > MOST_NAMES && ` and ${names.length - MOST_NAMES} more`}
    </p>
  );
}

/** Measures of single channels are for files, those of single steps for a plot; the panel shows what holds for all. */
const BY_CHANNEL = new Set(['greatest error', 'RMS error', 'carried on', 'step', COST_BY_STEP]);
/** More than these nobody clicks through. */
const MOST_STEPS = 200;
const isMain = ({ name }: Measure) => !BY_CHANNEL.has(name);

/** To the frame, and to the curve alone, whole in its lane, where it is one curve that is meant. */
function goTo(frame: number, channel: string | undefined): void {
  bench.goToFrame(frame);
  if (channel === undefined) return;
  // Also where its control is not selected.
  const { nodes } = useBench.getState().session.selection;
  const shown = nodes.includes(splitChannel(channel).node);
  bench.setLane({ isolated: [channel], filter: '', ...(shown ? {} : { showing: 'all' }) });
  frameCurves('values');
}

function Where({ measure }: { readonly measure: Measure }) {
  const { where } = measure;
  const frame = where?.frame;
  if (!where || frame === undefined) return null;
  return (
    <button type="button" className="where" onClick={() => goTo(frame, where.channel)}>
      {where.channel ?? where.node} @ {Math.round(frame)}
    </button>
  );
}
