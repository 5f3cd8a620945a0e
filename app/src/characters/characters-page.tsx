import { useAskedBeforeLeaving } from '../shell/use-asked-before-leaving.ts';
import { Alert, Button, Input, InputNumber, Select, Table, Tag, Tooltip } from 'antd';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { facingOf, flipTest, FLIP_LIMIT, InputError, perform } from '@kneader/core';
import type { FlipResult, Node, Session, Shot } from '@kneader/core';
import { shotsInView } from '../shots/shot-list.ts';
import { PageHead } from '../shell/page-head.tsx';
import { Loading } from '../shell/loading.tsx';
import { storageProblem } from '../store/storage.ts';
import type { BenchView } from '../store/shot-record.ts';
import { actBetween } from '../store/journal.ts';
import { keeperOf } from '../store/shot-keeper.ts';
import { useSaveShot, useShotList, useShotRecord } from '../store/shot-queries.ts';
import { PALETTES } from '../theme/palette.ts';
import type { Palette } from '../theme/palette.ts';
import { useTheme } from '../theme/theme-provider.tsx';
import { CharacterCards } from './character-cards.tsx';
import { HeightLine } from './height-line.tsx';
import { massesOf } from './masses-of.ts';
import { RelationsList } from './relations-list.tsx';
import { SignsCell } from './signs-cell.tsx';

/** A character's controls: sides, partners, and control by control how far flipping is from a true reflection. */
export function CharactersPage() {
  const { id } = useParams();
  const list = useShotList();
  const navigate = useNavigate();
  const entries = list.data?.heads ?? [];
  return (
    <main className="page">
      <PageHead />
      <div>
        <div className="characters-head">
          <h2>Characters</h2>
          <Select
            aria-label="Shot"
            placeholder="Choose a shot"
            style={{ minWidth: 260 }}
            value={id}
            showSearch={{ optionFilterProp: 'label' }}
            options={shotsInView(entries, { sought: '', order: 'name', tags: [] }).map((entry) => ({
              value: entry.id,
              label: entry.name,
            }))}
            onChange={(chosen: string) => void navigate(`/characters/${chosen}`)}
          />
          {id && <Link to={`/shots/${id}`}>Open on the bench</Link>}
        </div>
        {id ? (
          <ShotCharacters key={id} id={id} />
        ) : (
          <>
            <p className="soft hint">
              {list.data && entries.length === 0
                ? 'There is no shot yet: begin one, take a demo shot or import one on the Shots page.'
                : 'Choose whose controls, pairs and sides you want to see.'}
            </p>
            <CharacterCards heads={entries} />
          </>
        )}
      </div>
    </main>
  );
}

function ShotCharacters({ id }: { readonly id: string }) {
  const record = useShotRecord(id);
  if (record.error)
    return (
      <Alert
        type="warning"
        title={
          record.error instanceof InputError ? record.error.finding.sentence : storageProblem(record.error)
        }
      />
    );
  if (record.data === null) return <p className="soft hint">There is no such shot here.</p>;
  if (!record.data) return <Loading />;
  return <Controls id={id} loaded={record.data.session} view={record.data.view} acts={record.data.acts} />;
}

const STATES: Readonly<
  Record<FlipResult['state'], { readonly words: string; readonly colour: keyof Palette }>
> = {
  mirror: { words: 'true reflection', colour: 'left' },
  uneven: { words: 'sides are not alike', colour: 'accent' },
  off: { words: 'no true reflection', colour: 'warning' },
  'no partner': { words: 'no partner', colour: 'soft' },
  'not mutual': { words: 'partner points elsewhere', colour: 'warning' },
};

/** A tag in a colour of the palette: its text and its line. */
function SignTag({ colour, children }: { readonly colour: keyof Palette; readonly children: string }) {
  const hue = PALETTES[useTheme(({ name }) => name)][colour];
  return <Tag style={{ color: hue, borderColor: hue, background: 'transparent' }}>{children}</Tag>;
}

interface Row extends FlipResult {
  readonly key: string;
  readonly control: Node;
}

interface ControlsProps {
  readonly id: string;
  readonly loaded: Session;
  readonly acts: number;
  /** How the bench looked, which stays. */
  readonly view: BenchView | null;
}

function Controls({ id, loaded, view, acts }: ControlsProps) {
  const [session, setSession] = useState(loaded);
  const [sought, setSought] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [keeper] = useState(() => keeperOf({ id, acts }));
  const { mutateAsync, isPending } = useSaveShot();
  useAskedBeforeLeaving(isPending);
  const { shot } = session;
  const results = useMemo(() => flipTest(shot), [shot]);
  const nodes = useMemo(() => new Map(shot.nodes.map((node) => [node.id, node])), [shot.nodes]);
  const rows: Row[] = results
    .filter(({ node }) => node.toLowerCase().includes(sought.trim().toLowerCase()))
    .map((result) => ({ ...result, key: result.node, control: nodes.get(result.node)! }));

  const change = async (edit: string, options: object) => {
    const { session: next, outcome } = perform(session, edit, options);
    setProblem(outcome.report.status === 'refused' ? (outcome.report.findings[0]?.sentence ?? null) : null);
    if (outcome.report.status !== 'changed') return;
    setSession(next);
    // Noted at once: whoever leaves now finds it done.
    const done = actBetween(session, next);
    if (done) keeper.note(done);
    const noted = keeper.number;
    try {
      await mutateAsync({ id, session: next, view, acts: noted });
      keeper.stored(noted);
    } catch (error) {
      setProblem(storageProblem(error));
    }
  };
  const count = (state: FlipResult['state']) => results.filter((result) => result.state === state).length;
  const others = shot.nodes.filter(({ channels }) => channels.length > 0);
  const masses = useMemo(() => massesOf(shot), [shot]);
  const unsure = others
    .filter(({ side, pair }) => side !== 'centre' && pair === null)
    .map(({ id: node }) => node);
  return (
    <>
      <p>
        <b>Flip test.</b> Each control is turned and moved with all else at rest; its partner gets the flipped
        values, and must be the mirror image. {count('mirror')} of {results.length} are a true reflection,
        within {FLIP_LIMIT.mm} mm and {FLIP_LIMIT.degrees}°; {count('uneven')} turn as one, but rest
        differently on both sides; {count('off') + count('not mutual')} are not, {count('no partner')} have no
        partner.
      </p>
      {shot.characters.map((one) => (
        <FacingLine
          key={one.id}
          shot={shot}
          id={one.id}
          name={one.name}
          onChange={(degrees) => void change('poses.setFacing', { character: one.id, degrees })}
        />
      ))}
      {shot.characters.map((one) => (
        <HeightLine
          key={one.id}
          shot={shot}
          id={one.id}
          name={one.name}
          onChange={(options) => void change('motion.setHeight', { character: one.id, ...options })}
        />
      ))}
      {unsure.length > 0 && (
        <p className="soft">
          Unsure: {unsure.slice(0, 12).join(', ')}
          {unsure.length > 12 && ` and ${unsure.length - 12} more`}. Their names speak of a side, and no
          control that mirrors them was found: choose their partners below.
        </p>
      )}
      {problem && <Alert type="warning" title={problem} closable={{ onClose: () => setProblem(null) }} />}
      <RelationsList
        shot={shot}
        onRemove={({ id: relation }) => void change('spaces.remove', { relation })}
      />
      <Input.Search
        allowClear
        placeholder="Find a control"
        aria-label="Find a control"
        style={{ width: 260, margin: '8px 0' }}
        value={sought}
        onChange={(event) => setSought(event.target.value)}
      />
      <Table<Row>
        size="small"
        virtual
        pagination={false}
        scroll={{ y: 470, x: 1000 }}
        dataSource={rows}
        columns={[
          { title: 'Control', dataIndex: 'node', width: 170, sorter: (a, b) => a.node.localeCompare(b.node) },
          { title: 'Part', width: 80, render: (_, { control }) => control.part },
          {
            title: 'Side',
            width: 110,
            render: (_, { node, control }) => (
              <Select
                size="small"
                aria-label={`Side of ${node}`}
                style={{ width: 92 }}
                value={control.side}
                options={['left', 'centre', 'right'].map((side) => ({ value: side, label: side }))}
                onChange={(side: string) =>
                  void change('poses.setPair', { node, side, pair: side === 'centre' ? node : null })
                }
              />
            ),
          },
          {
            title: 'Partner',
            width: 200,
            render: (_, { node, control }) => (
              <Select
                size="small"
                showSearch
                allowClear
                aria-label={`Partner of ${node}`}
                style={{ width: 180 }}
                value={control.pair ?? undefined}
                placeholder="none"
                options={others.map((other) => ({ value: other.id, label: other.id }))}
                onChange={(pair?: string) => void change('poses.setPair', { node, pair: pair ?? null })}
              />
            ),
          },
          {
            title: (
              <Tooltip title="Of its character: as the table of body parts says, or set by hand; empty, it bears nothing of its own">
                Mass
              </Tooltip>
            ),
            width: 92,
            render: (_, { node }) => (
              <InputNumber
                size="small"
                controls={false}
                aria-label={`Mass of ${node}`}
                style={{ width: 74 }}
                suffix="%"
                min={0}
                max={100}
                value={masses.get(node) ?? null}
                onChange={(share) => void change('motion.setMass', { node, share })}
              />
            ),
          },
          {
            title: 'Flip test',
            width: 190,
            sorter: (a, b) => a.state.localeCompare(b.state) || a.angle - b.angle,
            render: (_, { state }) => <SignTag colour={STATES[state].colour}>{STATES[state].words}</SignTag>,
          },
          {
            title: 'Off by',
            width: 130,
            align: 'right',
            sorter: (a, b) => a.distanceMm - b.distanceMm,
            render: (_, { state, distanceMm, angle }) =>
              state === 'no partner' ? '–' : `${distanceMm.toFixed(1)} mm, ${angle.toFixed(1)}°`,
          },
          {
            title: (
              <Tooltip title="As the rest pose says, or set by hand: the sign with which each channel goes over">
                Signs
              </Tooltip>
            ),
            render: (_, { node, control, pair }) =>
              pair === null ? null : (
                <SignsCell
                  control={control}
                  onChange={(signs) => void change('poses.setFlipSigns', { node, signs })}
                />
              ),
          },
        ]}
      />
    </>
  );
}

interface FacingLineProps {
  readonly shot: Shot;
  readonly id: string;
  readonly name: string;
  readonly onChange: (degrees: number | null) => void;
}

const HOW = {
  set: 'as set by hand',
  sides: 'as its left and right say',
  feet: 'as its feet say',
  assumed: 'which is assumed',
};

/** Where a character faces at rest, how that is known, and a field to set it. */
function FacingLine({ shot, id, name, onChange }: FacingLineProps) {
  const { degrees, how, feetDisagree } = facingOf(shot, id);
  return (
    <p className="facing">
      <b>{name}</b> faces
      <InputNumber
        size="small"
        aria-label={`Where ${name} faces, degrees`}
        style={{ width: 92, margin: '0 6px' }}
        min={-360}
        max={360}
        step={90}
        suffix="°"
        value={Number(degrees.toFixed(1))}
        onChange={(value) => {
          if (value !== null) onChange(value);
        }}
      />
      at rest (0° is +z, 90° is +x), {HOW[how]}.
      {how === 'set' && (
        <Button size="small" type="link" onClick={() => onChange(null)}>
          Find it again
        </Button>
      )}
      {feetDisagree && <SignTag colour="accent">its feet point the other way</SignTag>}
    </p>
  );
}
