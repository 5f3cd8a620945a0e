import { closestCenter, DndContext } from '@dnd-kit/core';
import type { DragEndEvent } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { isBlock } from '@kneader/core';
import type { Layer } from '@kneader/core';
import { BlockTrack } from './block-lane.tsx';
import { LayerHead, LayerTrack } from './layer-lane.tsx';
import { layerEdits } from './layer-edits.ts';
import { useCarrySensors } from './use-carry-sensors.ts';

/** Passes and filters as rows, the uppermost first; a row is carried by its grip to another place. */
export function LayerStack({ passes }: { readonly passes: readonly Layer[] }) {
  const sensors = useCarrySensors();
  const rows = [...passes].reverse();
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    const place = passes.findIndex(({ id }) => id === over.id) + 1;
    const carried = passes.find(({ id }) => id === active.id);
    if (carried) layerEdits(carried).move(place);
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={rows.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        {rows.map((pass) => (
          <LayerRow key={pass.id} pass={pass} carried={passes.length > 1} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function LayerRow({ pass, carried }: { readonly pass: Layer; readonly carried: boolean }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: pass.id, disabled: !carried });
  return (
    <div
      ref={setNodeRef}
      className={`lane${isDragging ? ' dragged' : ''}`}
      style={{ height: 28, transform: CSS.Translate.toString(transform), transition }}
    >
      <LayerHead
        pass={pass}
        grip={carried ? { ref: setActivatorNodeRef, ...attributes, ...listeners } : null}
      />
      <div className="lane-track">
        {isBlock(pass) ? <BlockTrack block={pass} /> : <LayerTrack pass={pass} />}
      </div>
    </div>
  );
}
