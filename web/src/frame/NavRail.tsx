import { clsx } from 'clsx';
import { NavLink } from 'react-router';
import { useQuestion, writeQuestion } from '../question/question';
import { showKeys } from './KeyboardShortcuts';

/** A view that stands in the navigation. */
export interface NavigationEntry {
  /** The first segment of its address. */
  path: string;
  name: string;
  /** The key that leads there after "g". */
  key: string;
}

/** The views as the rungs of a ladder; the one stood on is filled. */
export function NavRail({ views }: { views: NavigationEntry[] }) {
  const [question] = useQuestion();
  return (
    <nav aria-label="Views" className="bg-paper border-line no-print w-[92px] shrink-0 border-r px-2 pt-4">
      <ul className="border-line2 border-x-2">
        {views.map(({ path, name, key }) => (
          <li key={path}>
            <NavLink
              to={`/${path}${writeQuestion(question)}`}
              title={`${name} (g ${key})`}
              className={({ isActive }) =>
                clsx(
                  'flex h-11 items-end px-2 pb-1.5',
                  isActive
                    ? 'border-decide border-b-[5px] font-semibold'
                    : 'border-line2 text-ink2 hover:text-ink border-b',
                )
              }
            >
              {name}
            </NavLink>
          </li>
        ))}
        <li aria-hidden className="h-3" />
      </ul>
      <button className="quiet mt-3 px-2 text-[13px]" onClick={showKeys}>
        Keys
      </button>
    </nav>
  );
}
