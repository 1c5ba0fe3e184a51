import type { ReactElement } from 'react';
import type { Session } from './api/client';
import type { NavigationEntry } from './frame/NavRail';
import { DirectoryView } from './directory/DirectoryView';
import { LadderView } from './ladder/LadderView';
import { LogbookView } from './logbook/LogbookView';
import { MatrixPage } from './matrix/MatrixPage';
import { PoliciesView } from './policies/PoliciesView';
import { PreviewsView } from './previews/PreviewsView';
import { ReviewView } from './review/ReviewView';
import { SeatsView } from './seats/SeatsView';
import { SettingsView } from './settings/SettingsView';
import { TodayView } from './today/TodayView';
import { UserPreviewView } from './userpreview/UserPreviewView';

interface AnyView {
  /** The first segment of the address. */
  path: string;
  /** What may follow in the address. */
  parameters: string[];
  render: (session?: Session) => ReactElement;
}

interface MainView extends AnyView, NavigationEntry {}

/** The views of the navigation, from the top. A new view is one line here; routes, navigation and keys follow. */
export const MAIN_VIEWS: MainView[] = [
  view('today', 'Today', 't', ['', 'requests/:id'], (session) => <TodayView session={session} />),
  view('ladder', 'Ladder', 'l', [''], (session) => <LadderView session={session} />),
  view('matrix', 'Matrix', 'm', [''], (session) => <MatrixPage session={session} />),
  view('settings', 'Settings', 'e', [':key?'], (session) => <SettingsView session={session} />),
  view('policies', 'Policies', 'p', [':id?'], (session) => <PoliciesView session={session} />),
  view('seats', 'Seats', 's', [':id?'], (session) => <SeatsView session={session} />),
  view('previews', 'Previews', 'v', [':kind?/:id?'], (session) => <PreviewsView session={session} />),
  view('directory', 'Directory', 'd', [':list?/:id?'], (session) => <DirectoryView session={session} />),
  view('logbook', 'Logbook', 'b', [':number?'], (session) => <LogbookView session={session} />),
];

/** Views that others lead to. */
export const OTHER_VIEWS: AnyView[] = [
  { path: 'review', parameters: [''], render: (session) => <ReviewView session={session} /> },
  { path: 'their', parameters: [''], render: (session) => <UserPreviewView session={session} /> },
];

/** Addresses of before, each with where it leads now. */
export const MOVED: Record<string, string> = { spread: 'matrix', 'read-over': 'review' };

function view(path: string, name: string, key: string, parameters: string[], render: AnyView['render']): MainView {
  return { path, name, key, parameters, render };
}
