import { Segmented, Select } from 'antd';
import type { Shading } from './shading.ts';
import type { StageView } from './stage-camera.tsx';

interface ViewToolsProps {
  readonly view: StageView;
  readonly setView: (view: StageView) => void;
  readonly shading: Shading;
  readonly setShading: (shading: Shading) => void;
  readonly hasCamera: boolean;
}

/** From where a stage is looked at, and how its figures are shaded. */
export function ViewTools({ view, setView, shading, setShading, hasCamera }: ViewToolsProps) {
  return (
    <>
      <Segmented<StageView>
        size="small"
        aria-label="View"
        value={view}
        onChange={setView}
        options={[
          { value: 'free', label: 'Free' },
          { value: 'front', label: 'Front' },
          { value: 'side', label: 'Side' },
          { value: 'top', label: 'Top' },
          ...(hasCamera ? [{ value: 'camera' as const, label: 'Camera' }] : []),
        ]}
      />
      <Select<Shading>
        size="small"
        aria-label="Shading"
        value={shading}
        onChange={setShading}
        options={[
          { value: 'lit', label: 'Lit' },
          { value: 'flat', label: 'Flat' },
          { value: 'silhouette', label: 'Silhouette' },
        ]}
        style={{ width: 88 }}
      />
    </>
  );
}
