import { frameCurves, hideCurves, isolateCurves } from '../bench-actions.ts';
import { bench, useBench } from '../bench-store.ts';
import { KeyListSwitch } from './key-list.tsx';
import { useStrokes } from '../keys/key-map.ts';

/** What the curves lane shows, and how; each switch has a keystroke. */
export function CurveSwitches() {
  const lane = useBench((state) => state.lane);
  const anyKeys = useBench((state) =>
    Object.values(state.session.selection.keys).some((ids) => ids.length > 0),
  );
  return (
    <>
      <div className="switches" role="group" aria-label="Show in the curves lane">
        <Switch name="Whole" stroke="whole" does="Show all of the curves" run={() => frameCurves('all')} />
        <Switch
          name="Keys"
          stroke="showKeys"
          does="Show the chosen keys"
          disabled={!anyKeys}
          run={() => frameCurves('keys')}
        />
        <Switch name="Range" stroke="showRange" does="Show the play range" run={() => frameCurves('range')} />
      </div>
      <div className="switches" role="group" aria-label="Curves in sight">
        <Switch
          name="All controls"
          stroke="everything"
          does="The curves of everything, not only of what is selected"
          on={lane.showing === 'all'}
          run={() => bench.setLane({ showing: lane.showing === 'all' ? 'selected' : 'all' })}
        />
        <Switch
          name="Isolate"
          stroke="isolate"
          does="Only the chosen curves"
          on={lane.isolated.length > 0}
          run={isolateCurves}
        />
        {lane.hidden.length > 0 && (
          <Switch
            name={`${lane.hidden.length} hidden`}
            stroke="unhide"
            does="Show the hidden curves"
            on
            run={() => hideCurves(false)}
          />
        )}
        <Switch
          name="One measure"
          stroke="oneMeasure"
          does="Each curve in its own measure (normalised), so that small and large ones can be compared"
          on={lane.normalised}
          run={() => bench.setLane({ normalised: !lane.normalised })}
        />
        <Switch
          name="Box"
          stroke="box"
          does="A transform box around the chosen keys: pull edges and corners, Alt about the middle, Shift tapers a corner"
          on={lane.box}
          run={() => bench.setLane({ box: !lane.box })}
        />
        <KeyListSwitch />
      </div>
    </>
  );
}

interface SwitchProps {
  readonly name: string;
  readonly stroke: string;
  readonly does: string;
  readonly run: () => void;
  readonly on?: boolean;
  readonly disabled?: boolean;
}

function Switch({ name, stroke, does, run, on, disabled }: SwitchProps) {
  const strokeFor = useStrokes();
  return (
    <button
      type="button"
      className={`chip${on ? ' on' : ''}`}
      title={`${does} (${strokeFor(stroke)})`}
      aria-pressed={on}
      disabled={disabled}
      onClick={run}
    >
      {name}
    </button>
  );
}
