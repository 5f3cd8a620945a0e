import { Button, InputNumber, Segmented, Select, Tabs } from 'antd';
import { lazy, Suspense, useEffect, useState } from 'react';
import type { ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { greatestOf, shownSize, writeDifferences } from '@kneader/core';
import type { Differences, From, Shot } from '@kneader/core';
import { saveFile } from '../../shots/save-file.ts';
import { LeftOutlined, SwapOutlined } from '../../theme/icons.tsx';
import type { AlignBy, Compared } from '../../worker/compared-shots.ts';
import { bench, useBench } from '../bench-store.ts';
import { CompareStage } from '../stage/compared/compare-stage.tsx';
import { PlayControls } from '../strip/strip.tsx';
import { setCompare, useCompare } from './compare-store.ts';
import type { Look } from './compare-store.ts';
import { ContactsTable, KeysTable } from './compare-tables.tsx';
import './compare.css';
import { HeatTable } from './heat-table.tsx';
import { useSide, useSideChoices } from './sides.ts';
import type { Side } from './sides.ts';
import { useCompared } from './use-compared.ts';

const FilmDialog = lazy(() => import('../film/film-dialog.tsx'));
const DifferencePlots = lazy(() => import('./difference-plots.tsx'));
const TimePlot = lazy(async () => ({ default: (await import('./difference-plots.tsx')).TimePlot }));

const BLINK_MS = 500;

/** Any two beside or over each other, on one play-head, and what differs. */
export function Compare() {
  const [address, setAddress] = useSearchParams();
  const [nameA, nameB] = [address.get('a') ?? 'now', address.get('b') ?? 'before'];
  const [a, b] = [useSide(nameA), useSide(nameB)];
  const choose = (change: Record<string, string>) =>
    setAddress({ a: nameA, b: nameB, ...change }, { replace: true });
  useBlink();
  const [isFilming, setFilming] = useState(false);
  // The play-head goes through the first of the two.
  const shotA = a.shot;
  useEffect(() => bench.lookAt(shotA), [shotA]);
  useEffect(() => () => bench.lookAt(null), []);
  const { compared, alignment, problem, isBusy } = useCompared(a.shot, b.shot);
  const names = [a.name, b.name] as const;
  const size = compared ? shownSize(compared.paired) : 1;
  const said = a.problem ?? b.problem ?? problem;
  return (
    <>
      <CompareStrip
        {...{ nameA, nameB, choose, a: a.shot, b: b.shot }}
        film={
          <Button size="small" disabled={!a.shot || !b.shot || !alignment} onClick={() => setFilming(true)}>
            Film
          </Button>
        }
      />
      {isFilming && a.shot && b.shot && alignment && (
        <Suspense>
          <FilmDialog
            shot={a.shot}
            beside={{ shot: b.shot, alignment, size, names }}
            onEnd={() => setFilming(false)}
          />
        </Suspense>
      )}
      {said !== null && (
        <p className="bench-notice" role="alert">
          {said}
        </p>
      )}
      <div className="compare-body">
        <div className="compare-left">
          {a.shot && b.shot && alignment ? (
            <CompareStage a={a.shot} b={b.shot} {...{ alignment, size, names }} />
          ) : (
            <section className="stage compare-empty soft">
              {said === null ? 'Fetching …' : 'Choose two that can be compared.'}
            </section>
          )}
          <Heat compared={compared} isBusy={isBusy} />
        </div>
        <aside className="compare-side" aria-label="What differs">
          {compared && a.shot && b.shot && <Differing a={a} b={b} compared={compared} names={names} />}
        </aside>
      </div>
    </>
  );
}

function useBlink(): void {
  const isBlinking = useCompare((state) => state.look === 'blink');
  useEffect(() => {
    if (!isBlinking) return;
    const timer = window.setInterval(
      () => setCompare({ blinked: useCompare.getState().blinked === 'a' ? 'b' : 'a' }),
      BLINK_MS,
    );
    return () => window.clearInterval(timer);
  }, [isBlinking]);
}

interface CompareStripProps {
  readonly nameA: string;
  readonly nameB: string;
  readonly a: Shot | null;
  readonly b: Shot | null;
  readonly choose: (change: Record<string, string>) => void;
  readonly film: ReactNode;
}

function CompareStrip({ nameA, nameB, a, b, choose, film }: CompareStripProps) {
  const id = useBench((state) => state.id);
  const look = useCompare((state) => state.look);
  const choices = useSideChoices();
  const options = choices.map(({ label, options: own }) => ({ label, options: [...own] }));
  return (
    <header className="strip compare-strip">
      <Link to={`/shots/${id}`} aria-label="Back to the bench" className="strip-back">
        <LeftOutlined />
      </Link>
      <h1 className="strip-name">Compare</h1>
      <Select
        size="small"
        aria-label="First"
        className="compare-choice"
        value={nameA}
        onChange={(value) => choose({ a: value })}
        options={options}
        showSearch={{ optionFilterProp: 'label' }}
        popupMatchSelectWidth={280}
      />
      <Button
        size="small"
        type="text"
        aria-label="Exchange the two"
        title="Exchange the two"
        icon={<SwapOutlined />}
        onClick={() => {
          choose({ a: nameB, b: nameA });
          const { at, beside } = useCompare.getState();
          setCompare({ at: beside, beside: at });
        }}
      />
      <Select
        size="small"
        aria-label="Second"
        className="compare-choice"
        value={nameB}
        onChange={(value) => choose({ b: value })}
        options={options}
        showSearch={{ optionFilterProp: 'label' }}
        popupMatchSelectWidth={280}
      />
      <Segmented<Look>
        size="small"
        aria-label="Look"
        value={look}
        onChange={(next) => setCompare({ look: next })}
        options={[
          { value: 'wipe', label: 'Wipe', title: 'A line between the two, to be dragged' },
          { value: 'over', label: 'Over', title: 'The second as an outline over the first' },
          { value: 'blink', label: 'Blink', title: 'One after the other, twice a second' },
          { value: 'beside', label: 'Beside', title: 'Side by side' },
        ]}
      />
      <span className="strip-gap" />
      {a && b && <Alignments a={a} b={b} />}
      {film}
      <PlayControls />
    </header>
  );
}

function Alignments({ a, b }: { readonly a: Shot; readonly b: Shot }) {
  const by = useCompare((state) => state.by);
  const at = useCompare((state) => state.at) ?? a.range.start;
  const beside = useCompare((state) => state.beside) ?? b.range.start;
  return (
    <div className="strip-group" role="group" aria-label="Time">
      <Select<AlignBy>
        size="small"
        aria-label="Time by"
        value={by}
        onChange={(value) => setCompare({ by: value })}
        style={{ width: 118 }}
        popupMatchSelectWidth={240}
        options={[
          { value: 'frame', label: 'A frame of each' },
          { value: 'poses', label: 'Pose columns, in order' },
          { value: 'markers', label: 'Markers, in order' },
          { value: 'time', label: 'Found in the poses' },
        ]}
      />
      {by === 'frame' && (
        <>
          <InputNumber
            size="small"
            aria-label="Frame of the first"
            value={at}
            onChange={(value) => setCompare({ at: value })}
            style={{ width: 58 }}
          />
          <span className="soft">is</span>
          <InputNumber
            size="small"
            aria-label="Frame of the second"
            value={beside}
            onChange={(value) => setCompare({ beside: value })}
            style={{ width: 58 }}
          />
        </>
      )}
    </div>
  );
}

type Measured = 'mm' | 'degrees';

function Heat({ compared, isBusy }: { readonly compared: Compared | null; readonly isBusy: boolean }) {
  const from = useCompare((state) => state.from);
  const [measured, setMeasured] = useSearchMeasured();
  const differences = compared?.differences;
  return (
    <section className="compare-heat" aria-label="Heat table" aria-busy={isBusy}>
      <header>
        <Segmented<Measured>
          size="small"
          aria-label="Measured"
          value={measured}
          onChange={setMeasured}
          options={[
            { value: 'mm', label: 'Places' },
            { value: 'degrees', label: 'Turns' },
          ]}
        />
        <Select<From>
          size="small"
          aria-label="Places from"
          value={from}
          onChange={(value) => setCompare({ from: value })}
          style={{ width: 142 }}
          options={[
            { value: 'world', label: 'In the world' },
            {
              value: 'middle',
              label: 'From its middle',
              title:
                'From the middle of the figure’s joints: who stands elsewhere and does the same is alike',
            },
          ]}
        />
        {differences && differences.names.length > 0 && (
          <>
            <Greatest differences={differences} measured="mm" />
            <Greatest differences={differences} measured="degrees" />
            <span className="strip-gap" />
            <Button
              size="small"
              title="Save all of it as a table"
              aria-label="Save as CSV"
              onClick={() =>
                saveFile(
                  `${useBench.getState().session.shot.name} differences.csv`,
                  writeDifferences(differences),
                  'text/csv',
                )
              }
            >
              CSV
            </Button>
          </>
        )}
        {isBusy && <span className="soft">Working …</span>}
      </header>
      {differences && differences.names.length > 0 && (
        <HeatTable
          differences={differences}
          table={differences[measured]}
          unit={measured === 'mm' ? 'mm' : '°'}
        />
      )}
    </section>
  );
}

/** What is measured, in the address beside the two sides. */
function useSearchMeasured(): readonly [Measured, (measured: Measured) => void] {
  const [address, setAddress] = useSearchParams();
  const measured = address.get('measured') === 'degrees' ? 'degrees' : 'mm';
  return [
    measured,
    (next) => setAddress({ ...Object.fromEntries(address), measured: next }, { replace: true }),
  ];
}

/** Which joint parts most, and when; touched, the play-head goes there. */
function Greatest({
  differences,
  measured,
}: {
  readonly differences: Differences;
  readonly measured: Measured;
}) {
  const { amount, joint, at } = greatestOf(differences, differences[measured]);
  const [name, frame] = [differences.names[joint]!, differences.frames[at]!];
  if (amount < 0.005)
    return <span className="soft">{measured === 'mm' ? 'No place differs' : 'No turn differs'}</span>;
  return (
    <button
      type="button"
      className="compare-greatest"
      onClick={() => {
        setCompare({ joint: name });
        bench.goToFrame(frame);
      }}
    >
      {measured === 'mm' ? 'Farthest apart' : 'Turned most'}: <b>{name}</b> at {frame}, {amount.toFixed(1)}
      {measured === 'mm' ? ' mm' : '°'}
    </button>
  );
}

interface DifferingProps {
  readonly a: Side;
  readonly b: Side;
  readonly compared: Compared;
  readonly names: readonly [string, string];
}

function Differing({ a, b, compared, names }: DifferingProps) {
  const { paired, contacts, keys } = compared;
  const alone = [
    ...(paired.aloneInA.length > 0 ? [`Only in ${names[0]}: ${paired.aloneInA.join(', ')}.`] : []),
    ...(paired.aloneInB.length > 0 ? [`Only in ${names[1]}: ${paired.aloneInB.join(', ')}.`] : []),
  ];
  return (
    <>
      {(paired.isMapped || alone.length > 0) && (
        <details className="compare-alone">
          <summary>
            {paired.isMapped && 'Joints of other names were mapped. '}
            {alone.length > 0 && `${paired.aloneInA.length + paired.aloneInB.length} without a partner`}
          </summary>
          {alone.map((sentence) => (
            <p key={sentence}>{sentence}</p>
          ))}
        </details>
      )}
      <Tabs
        size="small"
        className="compare-tabs"
        items={[
          {
            key: 'curves',
            label: 'Curves',
            children: (
              <Suspense>
                <DifferencePlots a={a.shot!} b={b.shot!} names={names} compared={compared} />
              </Suspense>
            ),
          },
          {
            key: 'time',
            label: 'Time',
            children: (
              <Suspense>
                <TimePlot compared={compared} names={names} />
              </Suspense>
            ),
          },
          { key: 'contacts', label: 'Contacts', children: <ContactsTable rows={contacts} names={names} /> },
          { key: 'keys', label: 'Keys', children: <KeysTable rows={keys} names={names} /> },
        ]}
      />
    </>
  );
}
