import { Button, Tooltip } from 'antd';
import type { Edit } from '@kneader/core';
import { copyTangent, giveTangent, setTangentKind, TANGENT_KINDS } from '../bench-actions.ts';
import { bench, useBench } from '../bench-store.ts';
import { useStrokes } from '../keys/key-map.ts';
import { ReportView } from './report-view.tsx';

const SAYS: Record<(typeof TANGENT_KINDS)[number], string> = {
  stepped: 'holds its value until the next key',
  linear: 'straight to the neighbours',
  flat: 'level',
  smooth: 'through key and neighbours',
  steady: 'never overshoots the neighbours',
  free: 'stays as it is set',
};

/** The six kinds and the two switches, done at once on the chosen keys. */
export function TangentsPanel({ edit }: { readonly edit: Edit }) {
  const chosen = useBench((state) =>
    Object.values(state.session.selection.keys).reduce((sum, ids) => sum + ids.length, 0),
  );
  const copied = useBench((state) => state.tangents !== null);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  const strokeFor = useStrokes();
  const set = (options: object) => bench.perform(edit.id, options);
  return (
    <div className="edit-body">
      <p className="soft summary">
        {chosen > 0
          ? `On ${chosen} chosen ${chosen === 1 ? 'key' : 'keys'}.`
          : 'Choose keys in the curves lane first: touch one, or draw a box.'}
      </p>
      <div className="kind-grid pad">
        {TANGENT_KINDS.map((kind) => (
          <Tooltip key={kind} title={SAYS[kind]}>
            <Button size="small" disabled={chosen === 0} onClick={() => setTangentKind(kind)}>
              {kind} <kbd>{strokeFor(`tangent.${kind}`)}</kbd>
            </Button>
          </Tooltip>
        ))}
      </div>
      <div className="kind-grid">
        <Button size="small" disabled={chosen === 0} onClick={() => set({ broken: true })}>
          break
        </Button>
        <Button size="small" disabled={chosen === 0} onClick={() => set({ broken: false })}>
          join
        </Button>
        <Button size="small" disabled={chosen === 0} onClick={() => set({ weighted: true })}>
          weighted
        </Button>
        <Button size="small" disabled={chosen === 0} onClick={() => set({ weighted: false })}>
          one third
        </Button>
      </div>
      <div className="kind-grid">
        <Button size="small" disabled={chosen === 0} onClick={copyTangent}>
          copy <kbd>{strokeFor('copyTangent')}</kbd>
        </Button>
        <Button size="small" disabled={chosen === 0 || !copied} onClick={giveTangent}>
          give <kbd>{strokeFor('giveTangent')}</kbd>
        </Button>
      </div>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}
