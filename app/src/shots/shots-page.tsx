import { DownOutlined, UploadOutlined } from '../theme/icons.tsx';
import { Alert, App, Button, Popconfirm, Upload } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useQuery } from '@tanstack/react-query';
import { BRAM_FILE } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import { FilmPicture } from '../drawing/film-picture.tsx';
import { fetchBenchInPeace } from '../shell/load-bench.ts';
import { PageHead } from '../shell/page-head.tsx';
import { recordText, useAddShot, useRemoveShot, useShotList } from '../store/shot-queries.ts';
import { storageProblem } from '../store/storage.ts';
import { ChangedPlacements } from './changed-placements.tsx';
import { NewShot } from './new-shot.tsx';
import { saveFile } from './save-file.ts';
import { droppedFiles } from './dropped-files.ts';
import { BESIDE, READABLE, useOpenFiles } from './use-open-files.tsx';
import { ShotCards } from './shot-cards.tsx';
import { shotsInView, tagsIn } from './shot-list.ts';
import type { ListView } from './shot-list.ts';
import { ShotSearch } from './shot-search.tsx';
import { SpaceUsed } from './space-used.tsx';

/** The demo shots; opening one makes a copy that is kept like any other shot. */
const DEMOS = [
  { id: 'dough-toss', needs: 'a key on every frame, noise and spikes: unwrap, thin, offset' },
  { id: 'night-round', needs: 'half a walk with the tray: flip the range, loop it, carry it on' },
  { id: 'late-round', needs: 'four quick steps whose feet slide: find contacts, hold them' },
  { id: 'first-tray', needs: 'stepped blocking, even gaps: complete, spline, retime' },
  { id: 'oven-door', needs: 'a tray that stays in one hand, a moving camera: switch spaces, steady, bake' },
  { id: 'over-the-puddle', needs: 'a leap that hangs and falls short: contacts, flight, feet that stand' },
  { id: 'kneading-loop', needs: 'a visible seam and a dull rhythm: loop, pattern' },
];

/** All shots as cards, the demo shots, and a place to drop files. */
export function ShotsPage() {
  const list = useShotList();
  const { takeFiles, open, question } = useOpenFiles();
  const [over, setOver] = useState(false);
  const demos = useRef<HTMLHeadingElement>(null);
  const [view, setView] = useState<ListView>({ sought: '', order: 'newest', tags: [] });
  const found = shotsInView(list.data?.heads ?? [], view);
  const listed = list.data !== undefined;
  useEffect(() => (listed ? fetchBenchInPeace() : undefined), [listed]);

  return (
    <main
      className="page"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => event.currentTarget === event.target && setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event.dataTransfer).then(takeFiles);
      }}
    >
      <PageHead />
      <section className={`drop-target${over ? ' over' : ''}`} aria-label="Open files">
        <Upload
          accept={[...READABLE, ...BESIDE].join(',')}
          showUploadList={false}
          multiple
          beforeUpload={(file, files) => {
            // Called for each: the first takes all.
            if (file === files[0]) void takeFiles(files.map((one) => ({ file: one, path: one.name })));
            return false;
          }}
        >
          <Button type="primary" icon={<UploadOutlined />}>
            Open a file
          </Button>
        </Upload>
        <NewShot heads={list.data?.heads ?? []} />
        <span>
          Or drop files or a folder anywhere here: characters (.glb, .vrm, or .gltf with what lies beside it),
          captured motion (.bvh), curves (.csv), or a shot saved from Kneader
        </span>
      </section>
      {list.data?.broken.map((id) => (
        <BrokenRecord key={id} id={id} />
      ))}
      <ChangedPlacements heads={list.data?.heads ?? []} />
      {list.error && <Alert type="error" showIcon title={storageProblem(list.error)} />}
      <div className="section-head">
        <h2 className="section-title">Your shots</h2>
        {(list.data?.heads.length ?? 0) > 1 && (
          <ShotSearch view={view} setView={setView} tags={tagsIn(list.data?.heads ?? [])} />
        )}
        {(list.data?.heads.length ?? 0) > 8 && (
          <Button
            size="small"
            icon={<DownOutlined />}
            onClick={() => demos.current?.scrollIntoView({ block: 'start' })}
          >
            Demo shots
          </Button>
        )}
      </div>
      <ShotCards heads={found} />
      {list.data && list.data.heads.length > 0 && found.length === 0 && (
        <p className="soft">No shot is called that.</p>
      )}
      {list.data?.heads.length === 0 && (
        <p className="soft">None yet. Open a file, begin one anew, or take a demo shot below.</p>
      )}
      <h2 ref={demos} className="section-title">
        Demo shots: Lantern Row Bakery, the night shift
      </h2>
      <div className="cards">
        {DEMOS.map((demo) => (
          <DemoCard key={demo.id} id={demo.id} needs={demo.needs} />
        ))}
        <DemoFileCard open={open} />
      </div>
      <SpaceUsed />
      {question}
    </main>
  );
}

/** A stored shot that no longer reads: what is there can be saved as a file, and removed. */
function BrokenRecord({ id }: { readonly id: string }) {
  const remove = useRemoveShot();
  const save = async () => saveFile(`${id}.record.json`, await recordText(id), 'application/json');
  return (
    <Alert
      type="warning"
      showIcon
      title="A stored shot no longer reads. Nothing was removed."
      description="Save what is there as a file, so that it can be looked into, before you remove it."
      action={
        <>
          <Button size="small" onClick={() => void save()}>
            Save as a file
          </Button>
          <Popconfirm title="Remove it for good?" onConfirm={() => remove.mutate(id)}>
            <Button size="small" type="text">
              Remove
            </Button>
          </Popconfirm>
        </>
      }
    />
  );
}

/** A character file of the demo: it is made when somebody asks for it, and opened like any other. */
function DemoFileCard({ open }: { readonly open: (name: string, bytes: Uint8Array) => Promise<void> }) {
  const [making, setMaking] = useState(false);
  const film = useQuery({ queryKey: ['demo', BRAM_FILE], queryFn: () => bridge.demoFileFilm() });
  const name = BRAM_FILE.replace(/\.glb$/, '');
  const take = async () => {
    setMaking(true);
    try {
      await open(BRAM_FILE, await bridge.demoFile());
    } finally {
      setMaking(false);
    }
  };
  return (
    <article className="card" aria-label={`Demo: ${name}`}>
      {film.data && <FilmPicture film={film.data} label={`${name}, moving`} />}
      <div className="card-text">
        <h3>{name}</h3>
        <span className="soft">
          a character as a file (.glb): one skin, six morphs of his face, two animations; reworked, it goes
          back into the file
        </span>
        <div className="card-foot">
          <Button size="small" loading={making} onClick={() => void take()}>
            Open a copy
          </Button>
        </div>
      </div>
    </article>
  );
}

function DemoCard({ id, needs }: { readonly id: string; readonly needs: string }) {
  const navigate = useNavigate();
  const add = useAddShot();
  const { notification } = App.useApp();
  const demo = useQuery({
    queryKey: ['demo', id],
    queryFn: () => bridge.demo(id),
  });
  if (!demo.data) return null;
  const { shot, film } = demo.data;
  const take = async () => {
    try {
      const made = await add.mutateAsync({ shot, film });
      void navigate(`/shots/${made}`);
    } catch (error) {
      notification.error({
        title: 'The demo shot was not kept',
        description: storageProblem(error),
        duration: 0,
      });
    }
  };
  return (
    <article className="card" aria-label={`Demo: ${shot.name}`}>
      <FilmPicture film={film} label={`${shot.name}, moving`} />
      <div className="card-text">
        <h3>{shot.name}</h3>
        <span className="soft">{needs}</span>
        <div className="card-foot">
          <Button size="small" loading={add.isPending} onClick={() => void take()}>
            Take a copy
          </Button>
        </div>
      </div>
    </article>
  );
}
