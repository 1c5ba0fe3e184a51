import { clsx } from 'clsx';
import { NavLink } from 'react-router';
import { useQuestion, writeQuestion } from '../question/question';

const VIEWS = [
  { path: '/today', name: 'Today' },
  { path: '/ladder', name: 'Ladder' },
  { path: '/matrix', name: 'Matrix' },
  { path: '/policies', name: 'Policies' },
  { path: '/seats', name: 'Seats' },
  { path: '/previews', name: 'Previews' },
  { path: '/directory', name: 'Directory' },
  { path: '/logbook', name: 'Logbook' },
];

/** The views as the rungs of a ladder; the one stood on is filled. */
export function NavRail() {
  const [question] = useQuestion();
  return (
    <nav aria-label="Views" className="bg-paper border-line no-print w-[92px] shrink-0 border-r px-2 pt-4">
      <ul className="border-line2 border-x-2">
        {VIEWS.map(({ path, name }) => (
          <li key={path}>
            <NavLink
              to={path + writeQuestion(question)}
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
    </nav>
  );
}
