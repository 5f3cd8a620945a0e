import { Slider } from 'antd';
import { useEffect, useRef } from 'react';
import { posing } from '../bench-actions.ts';

interface WeightSliderProps {
  readonly channel: string;
  readonly value: number | null;
  readonly label: string;
}

/** Keys that follow each other within this time are one step of the history. */
const ONE_STEP_MS = 500;

/** How far a morph shows, 0 to 1; what lies beyond is typed. It is keyed at the play-head as the field beside it does. */
export function WeightSlider({ channel, value, label }: WeightSliderProps) {
  const open = useRef({ isPosing: false, byKeys: false, timer: 0 });
  const end = () => {
    const hand = open.current;
    window.clearTimeout(hand.timer);
    if (!hand.isPosing) return;
    hand.isPosing = false;
    posing.end(`Set ${channel}`);
  };
  const last = useRef(end);
  last.current = end;
  // A row that scrolls away ends what it began.
  useEffect(() => () => last.current(), []);
  return (
    <span
      className="weight-slider"
      onKeyDownCapture={() => (open.current.byKeys = true)}
      onPointerDownCapture={() => (open.current.byKeys = false)}
      onBlur={end}
    >
      <Slider
        min={0}
        max={1}
        step={0.01}
        value={value ?? 0}
        disabled={value === null}
        tooltip={{ open: false }}
        ariaLabelForHandle={`${label}, as a slider`}
        onChange={(weight) => {
          const hand = open.current;
          window.clearTimeout(hand.timer);
          if (!hand.isPosing) posing.begin();
          hand.isPosing = true;
          posing.update({ [channel]: weight });
        }}
        onChangeComplete={() => {
          if (open.current.byKeys) open.current.timer = window.setTimeout(end, ONE_STEP_MS);
          else end();
        }}
      />
    </span>
  );
}
