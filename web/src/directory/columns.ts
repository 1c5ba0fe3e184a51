import type { Schemas } from '../api/client';
import { day } from '../text/dates';
import { formatNumber } from '../text/words';

export type ListName = 'people' | 'rooms' | 'guests' | 'services' | 'groups' | 'units' | 'workspaces' | 'hostings';

/** A row of any list: what some lists do not have is missing. */
export type Row = { id: string; name: string } & Partial<
  Omit<
    Schemas['AccountRow'] & Schemas['GroupRow'] & Schemas['UnitRow'] & Schemas['WorkspaceRow'] & Schemas['HostingRow'],
    'id' | 'name'
  >
>;

interface Column {
  title: string;
  width: string;
  of: (row: Row) => string;
  right?: boolean;
  /** What the server sorts by, where it can. */
  sort?: string;
}

const n = (k: number | undefined) => formatNumber(k ?? 0);

const ACCOUNT: Column[] = [
  { title: 'Name', width: 'minmax(140px,1.2fr)', of: (r) => r.name, sort: 'name' },
  { title: 'Address', width: 'minmax(150px,1.4fr)', of: (r) => r.address ?? '', sort: 'address' },
  { title: 'Unit', width: 'minmax(120px,1.2fr)', of: (r) => r.unit ?? '', sort: 'unit' },
  { title: 'Title', width: 'minmax(90px,1fr)', of: (r) => r.title ?? '', sort: 'title' },
  { title: 'Started', width: '112px', of: (r) => (r.started ? day(r.started) : ''), sort: 'started' },
  { title: '', width: '92px', of: (r) => (r.active === false ? 'deactivated' : '') },
];

const sizeOf = (r: Row) => [r.size, r.trial && 'trial', r.running === false && 'paused'].filter(Boolean).join(', ');

/** The columns of a list. */
export function columnsOf(list: ListName): Column[] {
  if (list === 'groups')
    return [
      { title: 'Name', width: 'minmax(160px,2fr)', of: (r) => r.name },
      { title: 'For', width: '80px', of: (r) => (r.access ? 'access' : 'mail') },
      { title: 'Owners', width: 'minmax(120px,2fr)', of: (r) => r.owners || 'nobody' },
      { title: 'Accounts', width: '88px', of: (r) => n(r.accounts), right: true },
      { title: 'Policies', width: '88px', of: (r) => n(r.policies), right: true },
    ];
  if (list === 'units')
    return [
      { title: 'Name', width: 'minmax(220px,2fr)', of: (r) => r.name },
      { title: 'Below', width: 'minmax(120px,2fr)', of: (r) => r.above ?? '' },
      { title: 'Accounts', width: '88px', of: (r) => n(r.accounts), right: true },
      { title: 'Policies', width: '88px', of: (r) => n(r.policies), right: true },
    ];
  if (list === 'workspaces')
    return [
      { title: 'Name', width: 'minmax(160px,2fr)', of: (r) => r.name },
      { title: 'Runs on', width: 'minmax(120px,1.2fr)', of: (r) => r.hosting ?? 'hosting of its own' },
      { title: 'Size', width: '140px', of: sizeOf },
      { title: 'Stewards', width: 'minmax(120px,2fr)', of: (r) => r.stewards || 'nobody' },
      { title: 'Members', width: '88px', of: (r) => n(r.accounts), right: true },
      { title: 'Policies', width: '88px', of: (r) => n(r.policies), right: true },
    ];
  if (list === 'hostings')
    return [
      { title: 'Name', width: 'minmax(160px,2fr)', of: (r) => r.name },
      { title: 'Size', width: '140px', of: sizeOf },
      { title: 'Kept by', width: 'minmax(120px,2fr)', of: (r) => r.keepers || 'nobody' },
      { title: 'Workspaces', width: '104px', of: (r) => n(r.workspaces), right: true },
      { title: 'Policies', width: '88px', of: (r) => n(r.policies), right: true },
    ];
  return ACCOUNT;
}

/** A list of the directory, and what its entries are called. */
export interface Listed {
  name: ListName;
  title: string;
  one: string;
  many?: string;
}
