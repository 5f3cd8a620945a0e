import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import type { Edit } from '@kneader/core';
import { pastePose } from '../bench-actions.ts';
import { bench, useBench } from '../bench-store.ts';
import { ControlsSelect } from './controls-select.tsx';
import { ReportView } from './report-view.tsx';
import { Field } from './field.tsx';

/** Copy a pose here, go elsewhere, paste it as it is or flipped. */
export function PastePosePanel({ edit }: { readonly edit: Edit }) {
  const [flip, setFlip] = useState(false);
  const [exclude, setExclude] = useState<string[]>([]);
  const pose = useBench((state) => state.pose);
  const frame = useBench((state) => state.frame);
  const selected = useBench((state) => state.session.selection.nodes.length);
  const report = useBench((state) => (state.report?.edit === edit.id ? state.report.report : null));
  return (
    <div className="edit-body">
      <Button size="small" block onClick={bench.copyPose}>
        Copy the pose of{' '}
        {selected > 0 ? `${selected} ${selected === 1 ? 'control' : 'controls'}` : 'everything'} at {frame}{' '}
        <kbd>Ctrl C</kbd>
      </Button>
      <p className="soft summary">
        {pose
          ? `Copied: ${pose.name}, ${Object.keys(pose.values).length} channels.`
          : 'No pose is copied yet.'}
      </p>
      <Checkbox checked={flip} onChange={(event) => setFlip(event.target.checked)}>
        Flip left and right
      </Checkbox>
      <Field label="Leave out" wide>
        <ControlsSelect label="Leave out" value={exclude} onChange={setExclude} />
      </Field>
      <div className="edit-foot">
        <Button size="small" type="primary" disabled={!pose} onClick={() => pastePose(flip, exclude)}>
          Paste at {frame} <kbd>{flip ? 'Ctrl Shift V' : 'Ctrl V'}</kbd>
        </Button>
      </div>
      {report && <ReportView report={report} tried={false} />}
    </div>
  );
}
