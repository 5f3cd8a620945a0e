import { App, Button, Dropdown } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { FORMATS, formatOf, NO_FILES, sourcesOf } from '@kneader/core';
import type { Format } from '@kneader/core';
import { DownOutlined } from '../../theme/icons.tsx';
import { bridge } from '../../bridge/bridge.ts';
import { saveFile } from '../../shots/save-file.ts';
import { filesOf } from '../../store/sources.ts';
import { useBench } from '../bench-store.ts';
import { useAskOfLost } from './ask-of-lost.tsx';
import { BackIntoFile } from './back-into-file.tsx';

const FilmDialog = lazy(() => import('../film/film-dialog.tsx'));
const SheetDialog = lazy(() => import('../sheets/sheet-dialog.tsx'));

/** What takes the files of characters along: a kind of its own, and what does so where it is asked for. */
const TAKES_ALONG = '.kneader.zip';
const HOLDING = 'holding ';
const INTO = 'into ';
const FILM = 'film';
const SHEET = 'sheet';

export function ExportMenu() {
  const { notification } = App.useApp();
  const ask = useAskOfLost();
  const sources = useBench((state) => state.session.shot.sources) ?? sourcesOf({});
  const [showing, setShowing] = useState<string | null>(null);
  const [into, setInto] = useState<number | null>(null);
  const give = async ({ ending, mime }: Format, isHolding: boolean) => {
    const { shot } = useBench.getState().session;
    try {
      const files = ending === TAKES_ALONG || isHolding ? await filesOf(shot) : NO_FILES;
      if (!(await ask(await bridge.lostIn(shot, ending, files)))) return;
      saveFile(`${shot.name}${ending}`, await bridge.file(shot, ending, files), mime);
    } catch (error) {
      notification.error({
        title: 'Nothing was exported',
        description: error instanceof Error ? error.message : String(error),
      });
    }
  };
  const menu = [
    ...sources.map(({ name }, i) => ({ key: `${INTO}${i}`, label: `Back into ${name} …` })),
    { key: FILM, label: 'Film or pictures …' },
    { key: SHEET, label: 'Sheet to print …' },
    { type: 'divider' as const },
    ...FORMATS.filter(({ inMenu, ending }) => inMenu && (sources.length > 0 || ending !== TAKES_ALONG))
      .map(({ ending, label, holdsByChoice }) => [
        { key: ending, label },
        ...(holdsByChoice && sources.length > 0
          ? [{ key: HOLDING + ending, label: `The same, with its characters’ files (${ending})` }]
          : []),
      ])
      .flat(),
  ];
  return (
    <>
      <Dropdown
        autoFocus
        trigger={['click']}
        // Within the page's landmarks.
        getPopupContainer={(trigger) => trigger.parentElement ?? document.body}
        menu={{
          onClick: ({ key }) =>
            key === FILM || key === SHEET
              ? setShowing(key)
              : key.startsWith(INTO)
                ? setInto(Number(key.slice(INTO.length)))
                : void give(formatOf(key)!, key.startsWith(HOLDING)),
          items: menu,
        }}
      >
        <Button size="small">
          Export <DownOutlined />
        </Button>
      </Dropdown>
      <Suspense>
        {showing === FILM && (
          <FilmDialog shot={useBench.getState().session.shot} onEnd={() => setShowing(null)} />
        )}
        {showing === SHEET && <SheetDialog onEnd={() => setShowing(null)} />}
      </Suspense>
      {into !== null && <BackIntoFile which={into} onEnd={() => setInto(null)} />}
    </>
  );
}
