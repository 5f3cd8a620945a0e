import { PauseOutlined, CaretRightOutlined, UndoOutlined } from '../../theme/icons.tsx';
import { Button, InputNumber } from 'antd';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { COST_BY_STEP, HELD_AT } from '@kneader/core';
import type { Edit } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import type { Closeness } from '../bench-store.ts';
import { TriedPanel, useOptions } from './edit-panel.tsx';
import { Field } from './field.tsx';
import { FineSlider } from './fine-slider.tsx';
import { OptionForm } from './option-form.tsx';

const CostPlot = lazy(() => import('./cost-plot.tsx'));

/** Steps that it goes on for, each time it is told to. */
const STEPS = 60;
/** Weights that are turned faster than this are one turn, ms. */
const ONE_TURN = 400;
/** As many stages as a course can have. */
const MOST_STAGES = 100;
/** So many controls have their weight in the panel; of more, those that are selected. */
const MOST_ROWS = 6;

type Options = Readonly<Record<string, unknown>>;
interface Stage extends Options {
  readonly steps: number;
}
interface Course {
  readonly before: readonly Stage[];
  /** Of the stage that is on its way. */
  readonly steps: number;
}
const FROM_THE_START: Course = { before: [], steps: STEPS };
const stepsOf = (stages: readonly Stage[]) => stages.reduce((sum, { steps }) => sum + steps, 0);
/** What holds for the whole of it, and is no part of a stage. */
const WHOLE = ['ends', 'course', 'steps'];

/** Refine: weights that can be turned while it runs, its course as a plot, and any state of it to go back to. */
export function RefinePanel({ edit }: { readonly edit: Edit }) {
  const [options, setOptions] = useOptions(edit);
  const [course, setCourse] = useState<Course>(FROM_THE_START);
  const close = useBench((state) => state.closeness);
  const selected = useBench((state) => state.session.selection.nodes);
  const shot = useBench((state) => state.session.shot);
  const costs = useCosts();
  const running = useBench((state) => state.preview?.whole === false);
  const turned = useRef(-Infinity);
  const bend = useRef<Closeness | null>(null);
  const done = Math.max(0, costs.length - 1);
  const all = stepsOf(course.before) + course.steps;
  const closeness = { closeFrames: close?.frames ?? [], closeWeights: close?.weights ?? [] };
  const given = { ...options, ...(isPair(closeness) ? closeness : {}) };
  useEffect(() => {
    bend.current = closenessIn(options);
    bench.setCloseness(bend.current);
    return () => bench.setCloseness(null);
    // What was remembered is taken up once.
  }, []); // eslint-disable-line react-hooks/exhaustive-deps
  // Another shot, or other controls: another course.
  useEffect(() => setCourse(FROM_THE_START), [shot, selected]);

  /** What was turned counts from the step on that stands; what came before stays as it came. */
  const turn = (weights: Options) => {
    const now = performance.now();
    const here = done - stepsOf(course.before);
    const isNew = here > 0 && now - turned.current > ONE_TURN && course.before.length < MOST_STAGES;
    turned.current = now;
    const { ends: _, course: __, ...stage } = given as Options;
    setCourse({
      before: isNew ? [...course.before, { ...stage, steps: here }] : course.before,
      steps: STEPS,
    });
    setOptions({ ...weights });
  };
  useEffect(() => {
    if (bend.current === close || close === null) return;
    bend.current = close;
    if (isPair(closeness)) turn({ ...options, ...closeness });
  });
  const upTo = (step: number) => {
    let left = Math.max(0, step);
    const before: Stage[] = [];
    for (const stage of course.before) {
      if (left <= stage.steps) break;
      before.push(stage);
      left -= stage.steps;
    }
    const stage = course.before[before.length];
    if (stage) {
      setOptions({ ...options, ...stage });
      // As it was then; that is no turn of a hand.
      bend.current = closenessIn(stage);
      bench.setCloseness(bend.current);
    }
    setCourse({ before, steps: left });
  };
  return (
    <TriedPanel edit={edit} options={{ ...given, course: course.before, steps: course.steps }} interrupts>
      <div className="refine-course" role="group" aria-label="Course">
        {/* Two buttons: a press that was meant for the one must not become the other as it stops by itself. */}
        <Button size="small" icon={<PauseOutlined />} disabled={!running} onClick={() => upTo(done)}>
          Pause
        </Button>
        <Button
          size="small"
          icon={<CaretRightOutlined />}
          disabled={running || done < all}
          onClick={() => setCourse({ ...course, steps: done - stepsOf(course.before) + STEPS })}
        >
          Go on
        </Button>
        <Button
          size="small"
          icon={<UndoOutlined />}
          disabled={done <= 1}
          title="A step back"
          onClick={() => upTo(done - 1)}
        >
          Back
        </Button>
        <span className="soft">
          step {done}
          {running && ` of ${all}`}
        </span>
      </div>
      <Suspense fallback={<div className="cost-plot" />}>
        <CostPlot
          costs={costs}
          stages={course.before.map((_, k) => stepsOf(course.before.slice(0, k + 1)))}
          onStep={upTo}
        />
      </Suspense>
      <OptionForm
        schema={edit.options}
        options={{ ...options, ...closeness }}
        onChange={({ closeFrames, closeWeights, ...next }) => {
          const { closeFrames: frames, closeWeights: weights } = closeness;
          if (closeFrames !== frames || closeWeights !== weights)
            bench.setCloseness({
              frames: (closeFrames as number[] | undefined) ?? [],
              weights: (closeWeights as number[] | undefined) ?? [],
            });
          else if (next['ends'] !== options['ends']) {
            setCourse(FROM_THE_START);
            setOptions(next);
          } else turn(next);
        }}
        without={['closeControls', 'controlWeights', ...WHOLE.slice(1)]}
      />
      <ControlWeights
        options={options}
        selected={selected}
        onChange={(weights) => turn({ ...options, ...weights })}
      />
    </TriedPanel>
  );
}

const closenessIn = (options: Options): Closeness => ({
  frames: (options['closeFrames'] as number[] | undefined) ?? [],
  weights: (options['closeWeights'] as number[] | undefined) ?? [],
});

const isPair = ({
  closeFrames,
  closeWeights,
}: {
  readonly closeFrames: readonly number[];
  readonly closeWeights: readonly number[];
}) => closeFrames.length === closeWeights.length;

/** What each step came to, of what is being tried or was applied last; the first is 100. */
function useCosts(): readonly number[] {
  const preview = useBench((state) => state.preview);
  const report = useBench((state) => state.report);
  const last =
    preview?.edit === 'motion.refine'
      ? preview.outcome.report
      : report?.edit === 'motion.refine'
        ? report.report
        : null;
  return (last?.measures ?? []).filter(({ name }) => name === COST_BY_STEP).map(({ value }) => value);
}

interface ControlWeightsProps {
  readonly options: Options;
  readonly selected: readonly string[];
  readonly onChange: (weights: { closeControls: string[]; controlWeights: number[] }) => void;
}

/** How much staying close counts for each of the selected controls. */
function ControlWeights({ options, selected, onChange }: ControlWeightsProps) {
  const names = (options['closeControls'] as string[] | undefined) ?? [];
  const weights = (options['controlWeights'] as number[] | undefined) ?? [];
  const rows = [...new Set([...names, ...selected])].slice(0, Math.max(MOST_ROWS, names.length));
  const set = (name: string, weight: number) => {
    const others = names.flatMap((one, k) => (one === name ? [] : [[one, weights[k]!] as const]));
    const all = weight === 1 ? others : [...others, [name, weight] as const];
    onChange({ closeControls: all.map(([one]) => one), controlWeights: all.map(([, one]) => one) });
  };
  if (rows.length === 0) return null;
  return (
    <div className="control-weights" role="group" aria-label="Staying close, by control">
      <p className="soft">Staying close, by control: {HELD_AT} leaves it as it is.</p>
      {rows.map((name) => {
        const weight = weights[names.indexOf(name)] ?? 1;
        return (
          <div key={name}>
            <Field label={name}>
              <InputNumber
                size="small"
                aria-label={`Staying close, ${name}`}
                value={weight}
                min={0}
                max={HELD_AT}
                suffix="×"
                onChange={(value) => value !== null && set(name, value)}
              />
            </Field>
            <FineSlider
              label={`Staying close, ${name}, slider`}
              value={Math.max(weight, 0.01)}
              min={0.01}
              max={HELD_AT}
              onChange={(value) => set(name, value)}
            />
          </div>
        );
      })}
    </div>
  );
}
