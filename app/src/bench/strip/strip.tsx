import {
  CaretRightOutlined,
  DownOutlined,
  LeftOutlined,
  PauseOutlined,
  RedoOutlined,
  StepBackwardOutlined,
  StepForwardOutlined,
  UndoOutlined,
} from '@ant-design/icons';
import { App, Button, Dropdown, InputNumber, Segmented, Select, Tooltip, Typography } from 'antd';
import { Link } from 'react-router';
import { framesPerSecond } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { saveFile } from '../../shots/save-file.ts';
import { bench, useBench } from '../bench-store.ts';
import type { Comparison } from '../bench-store.ts';
import type { Saving } from '../use-autosave.ts';

/** Name, play controls, comparison, history and files. */
export function Strip({ saving }: { readonly saving: Saving }) {
  const name = useBench((state) => state.session.shot.name);
  return (
    <header className="strip">
      <Link to="/" aria-label="Back to the shots" className="strip-back">
        <LeftOutlined />
      </Link>
      <Typography.Text
        className="strip-name"
        ellipsis={{ tooltip: name }}
        editable={{
          triggerType: ['text'],
          tooltip: false,
          onChange: (text) => text.trim() && bench.rename(text.trim().slice(0, 200)),
        }}
      >
        {name}
      </Typography.Text>
      <PlayControls />
      <ComparisonSwitch />
      <History />
      <span className="strip-gap" />
      <SavedState saving={saving} />
      <ExportMenu />
    </header>
  );
}

function PlayControls() {
  const playing = useBench((state) => state.playing);
  const speed = useBench((state) => state.speed);
  const { start, end } = useBench((state) => state.session.shot.range);
  const rate = useBench((state) => state.session.shot.rate);
  return (
    <div className="strip-group" role="group" aria-label="Play">
      <Button
        type="text"
        size="small"
        aria-label="First frame"
        icon={<StepBackwardOutlined />}
        onClick={() => bench.setFrame(start)}
      />
      <Tooltip title="Space">
        <Button
          type="primary"
          size="small"
          aria-label={playing ? 'Stop' : 'Play'}
          icon={playing ? <PauseOutlined /> : <CaretRightOutlined />}
          onClick={() => bench.setPlaying(!playing)}
        />
      </Tooltip>
      <Button
        type="text"
        size="small"
        aria-label="Last frame"
        icon={<StepForwardOutlined />}
        onClick={() => bench.setFrame(end)}
      />
      <FrameField />
      <span className="soft strip-range">
        of {start}–{end}, {Math.round(framesPerSecond(rate) * 100) / 100}/s
      </span>
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
  const { start, end } = useBench((state) => state.session.shot.range);
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
  return (
    <Segmented<Comparison>
      size="small"
      aria-label="Before and after"
      value={comparison}
      onChange={bench.setComparison}
      options={[
        { value: 'before', label: <Tooltip title="As it came. Hold B">Before</Tooltip> },
        { value: 'after', label: 'After' },
        {
          value: 'outline',
          label: <Tooltip title="As it is, with the motion as it came as an outline">Both</Tooltip>,
        },
      ]}
    />
  );
}

function History() {
  const at = useBench((state) => state.session.at);
  const count = useBench((state) => state.session.steps.length);
  const label = useBench((state) => state.session.steps[state.session.at]?.label ?? '');
  return (
    <div className="strip-group" role="group" aria-label="Undo and redo">
      <Tooltip title={at > 0 ? `Undo ${label}` : 'Nothing to undo'}>
        <Button
          type="text"
          size="small"
          aria-label="Undo"
          disabled={at === 0}
          icon={<UndoOutlined />}
          onClick={bench.undo}
        />
      </Tooltip>
      <Button
        type="text"
        size="small"
        aria-label="Redo"
        disabled={at >= count - 1}
        icon={<RedoOutlined />}
        onClick={bench.redo}
      />
    </div>
  );
}

function SavedState({ saving }: { readonly saving: Saving }) {
  if (saving.state === 'elsewhere') {
    return (
      <span className="strip-problem" role="alert">
        Changed in another tab.
        <Button size="small" type="link" onClick={() => window.location.reload()}>
          Load that
        </Button>
        <Button size="small" type="link" onClick={saving.keepMine}>
          Keep this
        </Button>
      </span>
    );
  }
  if (saving.state === 'problem') {
    return (
      <Tooltip title={saving.problem}>
        <span className="strip-problem" role="alert">
          Not saved: {saving.problem}
        </span>
      </Tooltip>
    );
  }
  return (
    <span className="soft" role="status">
      {saving.state === 'saved' ? 'Saved' : 'Saving …'}
    </span>
  );
}

function ExportMenu() {
  const { notification } = App.useApp();
  const give = async (kind: string) => {
    const { shot } = useBench.getState().session;
    try {
      if (kind === 'glb') saveFile(`${shot.name}.glb`, await bridge.glb(shot), 'model/gltf-binary');
      else saveFile(`${shot.name}.kneader.json`, await bridge.shotFile(shot), 'application/json');
    } catch (error) {
      notification.error({
        title: 'Nothing was exported',
        description: error instanceof Error ? error.message : String(error),
      });
    }
  };
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        onClick: ({ key }) => void give(key),
        items: [
          { key: 'glb', label: 'glTF, skeleton and animation (.glb)' },
          { key: 'shot', label: 'Shot file (.kneader.json)' },
        ],
      }}
    >
      <Button size="small">
        Export <DownOutlined />
      </Button>
    </Dropdown>
  );
}
