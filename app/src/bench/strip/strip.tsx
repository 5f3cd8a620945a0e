import {
  CaretRightOutlined,
  LeftOutlined,
  PauseOutlined,
  RedoOutlined,
  RetweetOutlined,
  StepBackwardOutlined,
  StepForwardOutlined,
  UndoOutlined,
} from '../../theme/icons.tsx';
import { Button, Input, InputNumber, Segmented, Select } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { actsOn, framesPerSecond, undoes } from '@kneader/core';
import { onRenameShot } from '../bench-actions.ts';
import { bench, headRange, headShot, useBench } from '../bench-store.ts';
import { counted } from '../edits/numbers.ts';
import { useStrokes } from '../keys/key-map.ts';
import type { Comparison } from '../bench-store.ts';
import type { Saving } from '../use-autosave.ts';
import { NotesButton } from '../notes/notes-drawer.tsx';
import { ExportMenu } from './export-menu.tsx';

/** Name, play controls, comparison, history and files. */
export function Strip({ saving }: { readonly saving: Saving }) {
  const name = useBench((state) => state.session.shot.name);
  return (
    <header className="strip">
      <Link to="/" aria-label="Back to the shots" className="strip-back">
        <LeftOutlined />
      </Link>
      <ShotName name={name} />
      <PlayControls />
      <ComparisonSwitch />
      <CompareLink />
      <History />
      <ChosenCount />
      <span className="strip-gap" />
      <NotesButton />
      <SavedState saving={saving} />
      <ExportMenu />
    </header>
  );
}

/** How much is chosen, always in sight. */
function ChosenCount() {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const { keys, channels, controls, chosen, whose } = useMemo(
    () => actsOn(shot, selection),
    [shot, selection],
  );
  if (channels === 0) return <span className="soft chosen-count">Nothing chosen</span>;
  return (
    <span className="chosen-count" role="status" aria-label="Chosen">
      <b className={chosen ? undefined : 'soft'}>{counted(keys, 'key')}</b> ·{' '}
      {controls === 0 ? whose : `${counted(channels, 'channel')} · ${counted(controls, 'control')}`}
    </span>
  );
}

/** The name; touched, or with F2, it is written anew. */
function ShotName({ name }: { readonly name: string }) {
  const [writing, setWriting] = useState(false);
  useEffect(() => onRenameShot(() => setWriting(true)), []);
  if (!writing)
    return (
      <h1 className="strip-name">
        <button type="button" title={`${name}: rename`} onClick={() => setWriting(true)}>
          {name}
        </button>
      </h1>
    );
  const end = (text: string | null) => {
    if (text !== null && text.trim() !== '') bench.rename(text.trim().slice(0, 200));
    setWriting(false);
  };
  return (
    <Input
      autoFocus
      size="small"
      className="strip-name"
      aria-label="Name of the shot"
      defaultValue={name}
      maxLength={200}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => end(event.target.value)}
      onPressEnter={(event) => end(event.currentTarget.value)}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        end(null);
      }}
    />
  );
}

export function PlayControls() {
  const playing = useBench((state) => state.playing);
  const speed = useBench((state) => state.speed);
  const { start, end } = useBench(headRange);
  const rate = useBench((state) => headShot(state).rate);
  const looped = useBench((state) => state.looped);
  const marked = useBench((state) => state.session.selection.range);
  const strokeFor = useStrokes();
  const perSecond = Math.round(framesPerSecond(rate) * 100) / 100;
  return (
    <div className="strip-group" role="group" aria-label="Play">
      <Button
        type="text"
        size="small"
        aria-label="First frame"
        icon={<StepBackwardOutlined />}
        onClick={() => bench.setFrame(start)}
      />
      <Button
        type="primary"
        size="small"
        aria-label={playing ? 'Stop' : 'Play'}
        title={strokeFor('play')}
        icon={playing ? <PauseOutlined /> : <CaretRightOutlined />}
        onClick={() => bench.setPlaying(!playing)}
      />
      <Button
        type="text"
        size="small"
        aria-label="Last frame"
        icon={<StepForwardOutlined />}
        onClick={() => bench.setFrame(end)}
      />
      <FrameField />
      <button
        type="button"
        className="strip-range"
        title="First frame, last frame and rate"
        aria-label={`Frames ${start} to ${end}, ${perSecond} in a second: set them`}
        onClick={() => bench.openEdit('timing.setShot')}
      >
        of {start}–{end}, {perSecond}/s
      </button>
      <Button
        type={looped ? 'default' : 'text'}
        size="small"
        aria-label="Play only the marked range"
        aria-pressed={looped}
        title={
          marked
            ? `Play only ${marked.start}–${marked.end}, again and again (${strokeFor('playRange')})`
            : 'Play only the marked range: mark one with Shift on the frames (ruler)'
        }
        icon={<RetweetOutlined />}
        onClick={bench.toggleLoop}
      />
      <Select
        size="small"
        aria-label="Speed"
        value={speed}
        onChange={bench.setSpeed}
        options={[0.25, 0.5, 1, 2].map((value) => ({ value, label: `${value}×` }))}
        style={{ width: 66 }}
      />
    </div>
  );
}

function FrameField() {
  const frame = useBench((state) => state.frame);
  const { start, end } = useBench(headRange);
  return (
    <InputNumber
      size="small"
      aria-label="Frame"
      min={start}
      max={end}
      precision={0}
      value={frame}
      onChange={(value) => value !== null && bench.setFrame(value)}
      style={{ width: 68 }}
    />
  );
}

function ComparisonSwitch() {
  const comparison = useBench((state) => state.comparison);
  const strokeFor = useStrokes();
  return (
    <Segmented<Comparison>
      size="small"
      aria-label="Before and after"
      value={comparison}
      onChange={bench.setComparison}
      options={[
        { value: 'before', label: 'Before', title: `As it came; while ${strokeFor('before')} is held` },
        { value: 'after', label: 'After', title: 'As it is' },
        { value: 'outline', label: 'Both', title: 'As it is, with the motion as it came as an outline' },
      ]}
    />
  );
}

function CompareLink() {
  const id = useBench((state) => state.id);
  return (
    <Link
      to={`/shots/${id}/compare`}
      className="strip-compare"
      title="Any two beside or over each other, and what differs"
    >
      Compare
    </Link>
  );
}

function History() {
  const at = useBench((state) => undoes(state.session));
  const isNewest = useBench((state) => state.session.at >= state.session.steps.length - 1);
  const label = useBench((state) => state.session.steps[undoes(state.session)]?.label ?? '');
  return (
    <div className="strip-group" role="group" aria-label="Undo and redo">
      <Button
        type="text"
        size="small"
        aria-label="Undo"
        title={at > 0 ? `Undo ${label}` : 'Nothing to undo'}
        disabled={at === 0}
        icon={<UndoOutlined />}
        onClick={bench.undo}
      />
      <Button
        type="text"
        size="small"
        aria-label="Redo"
        disabled={isNewest}
        icon={<RedoOutlined />}
        onClick={bench.redo}
      />
    </div>
  );
}

function SavedState({ saving }: { readonly saving: Saving }) {
  if (saving.state === 'problem') return <span className="strip-problem">Not saved</span>;
  if (saving.state !== 'saved' && saving.state !== 'saving')
    return <span className="strip-problem">Not stored here</span>;
  return (
    <span className="soft" role="status">
      {saving.state === 'saved' ? 'Saved' : 'Saving …'}
    </span>
  );
}
