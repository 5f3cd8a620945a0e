import { Segmented } from 'antd';
import { NavLink } from 'react-router';
import { useStoring } from '../store/storing.ts';
import { useTheme } from '../theme/theme-provider.tsx';

const WORDS = { nothing: '', saving: 'Saving …', saved: 'Saved', failed: 'Not saved' } as const;

/** As on the bench: what was changed on any page is stored by now, or is not. */
function StoringWord() {
  const state = useStoring();
  return (
    <span role="status" className={state === 'failed' ? 'failed' : 'soft'}>
      {WORDS[state]}
    </span>
  );
}

/** The head of the pages around the bench. */
export function PageHead() {
  const { name, setName } = useTheme();
  return (
    <header className="page-head">
      <h1>Kneader</h1>
      <nav aria-label="Pages">
        <NavLink to="/" end>
          Shots
        </NavLink>
        <NavLink to="/pantry">Pantry</NavLink>
        <NavLink to="/routines">Routines</NavLink>
        <NavLink to="/characters">Characters</NavLink>
        <NavLink to="/help">Help</NavLink>
      </nav>
      <StoringWord />
      <Segmented
        size="small"
        aria-label="Theme"
        value={name}
        onChange={setName}
        options={[
          { value: 'flour', label: 'Flour' },
          { value: 'rye', label: 'Rye' },
        ]}
      />
    </header>
  );
}
