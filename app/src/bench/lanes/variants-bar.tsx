import { BlockOutlined, PicCenterOutlined, PlusOutlined } from '../../theme/icons.tsx';
import { shownVariant, variantsOf } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { useStrokes } from '../keys/key-map.ts';

/** The variants of the stack: touched, one is shown; plus names the stack as it stands; side by side, or the one before as an outline. */
export function VariantsBar() {
  const shot = useBench((state) => state.session.shot);
  const beside = useBench((state) => state.beside);
  const outlined = useBench((state) => state.outlined);
  const strokeFor = useStrokes();
  const variants = variantsOf(shot);
  const shown = shownVariant(shot);
  const others = variants.filter((variant) => variant !== shown);
  const isBeside = beside.length > 1;
  return (
    <div className="variants" role="group" aria-label="Variants">
      {variants.map((variant, i) => (
        <button
          key={variant.id}
          type="button"
          className={`chip${variant === shown ? ' on' : ''}`}
          aria-pressed={variant === shown}
          title={`Show ${variant.name}${i < 9 ? ` (${i + 1})` : ''}; ${strokeFor('nextVariant')} shows the next`}
          onClick={() => bench.perform('variants.show', { variant: variant.id })}
          onDoubleClick={() => bench.openEdit('variants.set')}
        >
          {variant.name}
        </button>
      ))}
      <button
        type="button"
        className="chip"
        title="Name the stack as it stands: what is muted, the weights and the order"
        onClick={() => bench.perform('variants.save', {})}
      >
        <PlusOutlined /> Variant
      </button>
      {variants.length > 1 && (
        <>
          <button
            type="button"
            className={`chip${isBeside ? ' on' : ''}`}
            aria-pressed={isBeside}
            title="Up to four variants side by side on the stage"
            onClick={() => bench.setBeside(isBeside ? [] : variants.map(({ id }) => id))}
          >
            <PicCenterOutlined /> Side by side
          </button>
          <button
            type="button"
            className={`chip${outlined === null ? '' : ' on'}`}
            aria-pressed={outlined !== null}
            title="The next other variant as an outline behind the figure"
            onClick={() =>
              bench.setOutlined(
                nextOutlined(
                  others.map(({ id }) => id),
                  outlined,
                ),
              )
            }
          >
            <BlockOutlined /> Outline
          </button>
        </>
      )}
    </div>
  );
}

/** Goes through the others, and then to none. */
function nextOutlined(others: readonly string[], outlined: string | null): string | null {
  const at = outlined === null ? -1 : others.indexOf(outlined);
  return others[at + 1] ?? null;
}
