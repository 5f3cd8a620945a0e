import { useEffect } from 'react';
import { useMatch, useNavigate, useParams } from 'react-router';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { InputError } from '@kneader/core';
import { Loading } from '../shell/loading.tsx';
import { NoticePage } from '../shell/notice-page.tsx';
import { storageProblem } from '../store/storage.ts';
import { useShotRecord } from '../store/shot-queries.ts';
import type { OpenedShot } from '../store/shot-queries.ts';
import { onCompareTwo } from './bench-actions.ts';
import { bench, useBench } from './bench-store.ts';
import './bench.css';
import { Compare } from './compare/compare.tsx';
import { EditsPanel } from './edits/edits-panel.tsx';
import { FigurePanel } from './figure/figure-panel.tsx';
import { Lanes } from './lanes/lanes.tsx';
import { FindDialog } from './find/find-dialog.tsx';
import { HeightNotice } from './height-notice.tsx';
import { NotesDrawer } from './notes/notes-drawer.tsx';
import { RenewNotice } from './renew-notice.tsx';
import { SmallBench } from './small-bench.tsx';
import { Stage } from './stage/stage.tsx';
import { ReferencePane, useReferenceOf } from './reference/reference-pane.tsx';
import { hideReference, useReference } from './reference/reference-state.ts';
import { OtherTabNotice } from './strip/other-tab-notice.tsx';
import { Strip } from './strip/strip.tsx';
import { UprightNotice } from './upright-notice.tsx';
import { usePlayback } from './strip/use-playback.ts';
import { useAutosave } from './use-autosave.ts';
import { useClipboard } from './use-clipboard.tsx';
import { useIsSmall } from './use-is-small.ts';
import { useFocusHome } from './keys/use-focus-home.ts';
import { useShortcuts } from './keys/use-shortcuts.ts';

/** Strokes that change nothing of the shot: those of two that are compared. */
const LOOKING: ReadonlySet<string> = new Set([
  ...['play', 'playRange', 'back', 'on', 'back10', 'on10', 'first', 'last'],
  ...['nextColumn', 'previousColumn', 'nextMarker', 'notes', 'frameStage', 'compare'],
]);

/** The screen where a shot is reworked. */
export function BenchPage() {
  const { id = '' } = useParams();
  const record = useShotRecord(id);
  const opened = useBench((state) => state.id);
  useEffect(() => {
    if (record.data && useBench.getState().id !== id) bench.open(id, record.data.session, record.data.view);
  }, [record.data, id]);
  // Leaving the bench closes it, so that coming back finds what is stored.
  useEffect(() => () => bench.open('', useBench.getInitialState().session, null), []);

  if (record.error) {
    const sentence =
      record.error instanceof InputError ? record.error.finding.sentence : storageProblem(record.error);
    return (
      <NoticePage
        status="warning"
        title="This shot cannot be opened"
        sentence={`${sentence} Nothing was removed.`}
      />
    );
  }
  if (record.data === null)
    return (
      <NoticePage
        status="warning"
        title="There is no such shot here"
        sentence="It was removed, or it is in another browser."
      />
    );
  if (opened !== id || !record.data) return <Loading />;
  return <OpenBench key={id} record={record.data} />;
}

function OpenBench({ record }: { readonly record: OpenedShot }) {
  const saving = useAutosave(record);
  const isSmall = useIsSmall();
  const isComparing = useMatch('/shots/:id/compare') !== null;
  usePlayback();
  useShortcuts(isComparing ? LOOKING : undefined);
  useFocusHome();
  useReferenceOf(record.id);
  const navigate = useNavigate();
  useEffect(
    () => onCompareTwo(() => void navigate(`/shots/${record.id}${isComparing ? '' : '/compare'}`)),
    [navigate, record.id, isComparing],
  );
  return (
    <main className="bench">
      {isComparing ? <Compare /> : <Strip saving={saving} />}
      <OtherTabNotice saving={saving} />
      {saving.state === 'problem' && (
        <p className="bench-notice" role="alert">
          <span>Not saved: {saving.problem} It is tried again every three seconds.</span>
        </p>
      )}
      {!isComparing && <Clipboard />}
      <RenewNotice />
      <UprightNotice />
      <HeightNotice />
      <NotesDrawer />
      <FindDialog />
      {!isComparing && (isSmall ? <SmallBench /> : <WholeBench />)}
    </main>
  );
}

/** What copies and pastes. */
function Clipboard() {
  useClipboard();
  return null;
}

function ReferenceBeside() {
  const isOpen = useReference(({ isOpen: open, reference }) => open || reference?.place.isShown === true);
  return isOpen ? <ReferencePane onClose={hideReference} /> : null;
}

function WholeBench() {
  return (
    <div className="bench-body">
      <Group orientation="vertical" className="bench-left">
        <Panel defaultSize="52%" minSize="25%">
          <div className="bench-top">
            <FigurePanel />
            <ReferenceBeside />
            <Stage />
          </div>
        </Panel>
        <Separator className="bench-divider" aria-label="Height of the lanes" />
        <Panel defaultSize="48%" minSize="20%">
          <Lanes />
        </Panel>
      </Group>
      <EditsPanel />
    </div>
  );
}
