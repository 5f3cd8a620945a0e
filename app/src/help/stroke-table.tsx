import { Button } from 'antd';
import { useState } from 'react';
import { clashes, keyMap, strokeInWords, strokeOf, useKeyMap } from '../bench/keys/key-map.ts';
import { pressOf, SHORTCUT_GROUPS, SHORTCUTS } from '../bench/keys/shortcuts.ts';

/** Every keystroke of the bench; touched, a line takes the next stroke as its own. Clashes are said beside it. */
export function StrokeTable() {
  const changed = useKeyMap((state) => state.changed);
  const [taking, setTaking] = useState<string | null>(null);
  const clashing = clashes(changed);
  return (
    <div className="strokes">
      <p className="soft">
        Touch a stroke, then press the one that you want in its place; Escape leaves it.{' '}
        {Object.keys(changed).length > 0 && (
          <Button size="small" onClick={() => keyMap.reset()}>
            As they came
          </Button>
        )}
      </p>
      {SHORTCUT_GROUPS.map((group) => (
        <div key={group}>
          <h3>{group}</h3>
          <dl>
            {SHORTCUTS.filter((shortcut) => shortcut.group === group).map((shortcut) => {
              const { id, does } = shortcut;
              const owner = clashing.get(id);
              return (
                <div key={id}>
                  <dt>
                    <button
                      type="button"
                      className={`stroke${changed[id] ? ' changed' : ''}`}
                      aria-label={`Stroke for: ${does}`}
                      onClick={() => setTaking(id)}
                      onBlur={() => setTaking(null)}
                      onKeyDown={(event) => {
                        if (taking !== id) return;
                        if (['Shift', 'Control', 'Alt', 'Meta', 'Tab'].includes(event.key)) return;
                        event.preventDefault();
                        if (event.key !== 'Escape' || id === 'escape')
                          keyMap.change(id, pressOf(event.nativeEvent));
                        setTaking(null);
                      }}
                    >
                      <kbd>{taking === id ? 'press …' : strokeInWords(strokeOf(shortcut, changed))}</kbd>
                    </button>
                  </dt>
                  <dd>
                    {does}
                    {owner && (
                      <span className="refusal" role="alert">
                        {' '}
                        Does nothing now: the stroke belongs to “{owner.does}”.
                      </span>
                    )}
                  </dd>
                </div>
              );
            })}
          </dl>
        </div>
      ))}
    </div>
  );
}
