import { Segmented } from 'antd';
import { NavLink } from 'react-router';
import { useTheme } from '../theme/theme-provider.tsx';

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
