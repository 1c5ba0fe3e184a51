import type { Hit, Setting } from '../api/client';
import { EntityPicker } from '../parts/EntityPicker';
import { count } from '../text/words';
import { FILTERS, type Filter } from './filters';
import { MatrixCsv } from './MatrixCsv';
import { PrintedMatrix } from './PrintedMatrix';
import type { MatrixQuery, MatrixWhere } from './useMatrixWindow';

/** The line above the matrix: how much it shows, what opens and finds rows, and the whole of it on paper and as a file. */
export function MatrixToolbar(props: {
  total: number;
  settings: Setting[];
  rows: 'units' | 'groups';
  filter?: Filter;
  open: string[] | 'all' | 'units';
  /** Whether it shows what a draft leads to. */
  drafted: boolean;
  inWorkspace: boolean;
  /** What it is called on paper. */
  title: string;
  zone: string;
  asked: MatrixQuery;
  where: MatrixWhere;
  onOpen: (open: string[] | 'all' | 'units') => void;
  onClearFilter: () => void;
  onFind: (hit: Hit) => void;
}) {
  const { filter } = props;
  return (
    <div className="text-ink2 flex items-center gap-3 px-5 pb-2 text-[13px]">
      <span>
        {count(props.total, 'row')}, {count(props.settings.length, 'setting')}
        {filter && `: only ${FILTERS[filter]}`}
        {props.drafted && ', after the draft'}.
      </span>
      {filter && (
        <button className="quiet" onClick={props.onClearFilter}>
          Show everything
        </button>
      )}
      {typeof props.open === 'string' ? (
        <button className="quiet" onClick={() => props.onOpen([])}>
          Close all
        </button>
      ) : (
        <>
          {props.rows === 'units' && (
            <button className="quiet" onClick={() => props.onOpen('units')}>
              Open all units
            </button>
          )}
          <button className="quiet" onClick={() => props.onOpen('all')}>
            Open all, down to people
          </button>
        </>
      )}
      <span className="w-60">
        <EntityPicker
          label="Find a row or column"
          kinds={props.rows === 'groups' ? 'group,setting' : 'unit,account,setting'}
          onPick={props.onFind}
        />
      </span>
      <MatrixCsv asked={props.asked} query={{ ...props.where }} />
      <PrintedMatrix
        title={props.title}
        asks={[
          filter && `Only rows ${FILTERS[filter]}.`,
          props.drafted && 'After the draft.',
          props.inWorkspace && 'In the workspace asked about.',
        ]
          .filter(Boolean)
          .join(' ')}
        zone={props.zone}
        settings={props.settings}
        asked={props.asked}
        query={props.where}
      />
    </div>
  );
}
