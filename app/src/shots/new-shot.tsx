import { PlusOutlined } from '../theme/icons.tsx';
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Form, Input, InputNumber, Modal, Select } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { castShot, InputError } from '@kneader/core';
import type { Cast, Rate } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import { openShot, useAddShot } from '../store/shot-queries.ts';
import { RecordGone, storageProblem } from '../store/storage.ts';
import type { ShotHead } from '../store/shot-record.ts';

const RATES: readonly (readonly [label: string, rate: Rate])[] = [
  ...[24, 25, 30, 48, 50, 60, 120].map(
    (numerator) => [String(numerator), { numerator, denominator: 1 }] as const,
  ),
  ...[24, 30, 60].map(
    (whole) => [(whole / 1.001).toFixed(3), { numerator: whole * 1000, denominator: 1001 }] as const,
  ),
];
/** The demo shot in which all characters of the shelf stand. */
const SHELF = 'oven-door';
/** What a choice begins with. */
const [ON_SHELF, OF_SHOT] = ['shelf:', 'shot:'];

interface Wish {
  readonly name: string;
  readonly who: readonly string[];
  readonly rate: string;
  readonly frames: number;
}

/** All characters of a stored shot; its figure where it names none. */
async function castOf(id: string): Promise<Cast> {
  const opened = await openShot(id);
  if (opened === null) throw new RecordGone();
  const { shot } = opened.session;
  const characters = shot.characters.map((one) => one.id);
  return { shot, characters: characters.length > 0 ? characters : [null] };
}

/** Begins a shot: who stands in it, how many frames a second, how long. */
export function NewShot({ heads }: { readonly heads: readonly ShotHead[] }) {
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const shelf = useQuery({ queryKey: ['demo', SHELF], queryFn: () => bridge.demo(SHELF) });
  const add = useAddShot();
  const navigate = useNavigate();
  const own = shelf.data?.shot.characters ?? [];
  const begin = async ({ name, who, rate, frames }: Wish) => {
    try {
      const chosen = (kind: string) =>
        who.flatMap((one) => (one.startsWith(kind) ? [one.slice(kind.length)] : []));
      const shelved = { shot: shelf.data!.shot, characters: chosen(ON_SHELF) };
      const cast = [shelved, ...(await Promise.all(chosen(OF_SHOT).map(castOf)))];
      const given = RATES.find(([label]) => label === rate)![1];
      const made = await add.mutateAsync({ shot: castShot(name.trim() || 'New shot', cast, given, frames) });
      void navigate(`/shots/${made}`);
    } catch (error) {
      setProblem(error instanceof InputError ? error.finding.sentence : storageProblem(error));
    }
  };
  return (
    <>
      <Button icon={<PlusOutlined />} disabled={!shelf.data} onClick={() => setOpen(true)}>
        New shot
      </Button>
      <Modal title="New shot" open={open} footer={null} destroyOnHidden onCancel={() => setOpen(false)}>
        <Form<Wish>
          layout="vertical"
          requiredMark={false}
          initialValues={{ name: 'New shot', who: [`${ON_SHELF}bram`], rate: '24', frames: 48 }}
          onValuesChange={() => setProblem(null)}
          onFinish={(wish) => void begin(wish)}
        >
          <Form.Item name="name" label="Name">
            <Input maxLength={60} />
          </Form.Item>
          <Form.Item
            name="who"
            label="Who stands in it"
            rules={[{ required: true, message: 'Choose a character first: a shot begins with one.' }]}
          >
            <Select
              mode="multiple"
              aria-label="Who stands in it"
              optionFilterProp="label"
              options={[
                {
                  label: 'On the shelf',
                  options: own.map(({ id, name }) => ({ value: `${ON_SHELF}${id}`, label: name })),
                },
                {
                  label: 'From your shots',
                  options: heads.map(({ id, name }) => ({ value: `${OF_SHOT}${id}`, label: `of ${name}` })),
                },
              ]}
            />
          </Form.Item>
          <Form.Item name="rate" label="Frames a second">
            <Select options={RATES.map(([label]) => ({ value: label, label }))} />
          </Form.Item>
          <Form.Item
            name="frames"
            label="Length in frames"
            rules={[{ required: true, message: 'How long?' }]}
          >
            <InputNumber min={2} max={100_000} precision={0} />
          </Form.Item>
          {problem !== null && <Alert type="warning" showIcon title={problem} />}
          <div className="modal-foot">
            <Button htmlType="submit" type="primary" loading={add.isPending}>
              Begin
            </Button>
          </div>
        </Form>
      </Modal>
    </>
  );
}
