import { App, ConfigProvider, theme as antTheme } from 'antd';
import { useEffect, useSyncExternalStore } from 'react';
import type { ReactNode } from 'react';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { PALETTES } from './palette.ts';
import type { ThemeName } from './palette.ts';

interface ThemeState {
  readonly name: ThemeName;
  readonly setName: (name: ThemeName) => void;
}

/** Which theme is on; kept in the browser. */
export const useTheme = create<ThemeState>()(
  persist((set) => ({ name: 'flour', setName: (name) => set({ name }) }), { name: 'kneader-theme' }),
);

const STILL = '(prefers-reduced-motion: reduce)';

/**
 * Motion that nobody sees. It is not taken away altogether: dialogs and drawers that have none
 * give the focus before their content is shown, so that what is typed first would be lost.
 */
const AT_ONCE = {
  motionDurationFast: '0.001s',
  motionDurationMid: '0.001s',
  motionDurationSlow: '0.001s',
};

/** Whether nothing shall move that need not: lists then open at once. */
const useStill = (): boolean =>
  useSyncExternalStore(
    (changed) => {
      const query = window.matchMedia(STILL);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => window.matchMedia(STILL).matches,
  );

/** Sets Ant Design's tokens and the CSS variables from the palette. */
export function ThemeProvider({ children }: { readonly children: ReactNode }) {
  const name = useTheme((state) => (state.name in PALETTES ? state.name : 'flour'));
  const palette = PALETTES[name];
  const still = useStill();
  useEffect(() => {
    const root = document.documentElement;
    for (const [key, value] of Object.entries(palette)) root.style.setProperty(`--${key}`, value);
    root.dataset['theme'] = name;
    root.style.colorScheme = name === 'flour' ? 'light' : 'dark';
  }, [name, palette]);
  return (
    <ConfigProvider
      theme={{
        algorithm: [
          name === 'flour' ? antTheme.defaultAlgorithm : antTheme.darkAlgorithm,
          antTheme.compactAlgorithm,
        ],
        token: {
          colorPrimary: palette.accent,
          colorInfo: palette.accent,
          colorLink: palette.accent,
          colorBgBase: palette.sheet,
          colorTextBase: palette.ink,
          colorTextDescription: palette.soft,
          colorTextPlaceholder: palette.soft,
          colorTextDisabled: palette.soft,
          colorBorder: palette.rule,
          colorBgContainer: palette.sheet,
          colorBgElevated: palette.sheet,
          colorError: palette.warning,
          colorWarning: palette.accent,
          fontFamily: "'Recursive Variable', sans-serif",
          // The compact algorithm takes two pixels off.
          fontSize: 14.5,
          borderRadius: 5,
          wireframe: false,
          ...(still ? AT_ONCE : {}),
        },
        components: {
          // A menu lies at once where it will be pressed: sliding in under the hand it gave the press to its neighbour, or to nobody.
          Dropdown: { motionDurationMid: '0s' },
          Segmented: { trackBg: palette.trough, itemSelectedBg: palette.sheet, itemColor: palette.soft },
          // The compact height would cut what hangs below the line.
          Select: { multipleItemHeightSM: 18 },
          Button: {
            primaryShadow: 'none',
            defaultShadow: 'none',
            primaryColor: palette.accentInk,
            // Its own lighter shade under the hand would be too pale to read.
            defaultHoverColor: palette.accent,
            defaultHoverBorderColor: palette.accent,
          },
        },
      }}
    >
      <App
        className="ant-app-root"
        // Never over Export, Undo or Apply.
        notification={{ placement: 'bottom' }}
      >
        {children}
      </App>
    </ConfigProvider>
  );
}
