import { useState } from 'react';
import { createPortal, flushSync } from 'react-dom';
import { api, unwrapAs, type MatrixRowData, type MatrixView, type Setting } from '../api/client';
import { now } from '../text/clock';
import { formatInstant } from '../text/dates';
import type { MatrixQuery } from './useMatrixWindow';

const PAGE = 500;
/** More rows belong into a file. */
const MOST = 5_000;

/** Prints the whole matrix, those rows too that are not in sight, with its title, the question and the instant. */
export function PrintedMatrix(props: {
  title: string;
  asks: string;
  zone: string;
  settings: Setting[];
  asked: MatrixQuery;
  query: { draft?: number; workspace?: string; at?: string };
}) {
  const { settings } = props;
  const [rows, setRows] = useState<MatrixRowData[]>();
  const [said, setSaid] = useState('');
  const print = async () => {
    setSaid('Reading all rows…');
    const all: MatrixRowData[] = [];
    for (let total = 1; all.length < total;) {
      const view = await unwrapAs<MatrixView>(
        api.POST('/api/v1/matrix', {
          params: { query: props.query },
          body: { ...props.asked, from: all.length, count: PAGE },
        }),
      );
      if (view.total > MOST) return setSaid(`More than ${MOST} rows cannot be printed; take them as CSV.`);
      total = view.total;
      all.push(...view.rows);
    }
    setSaid('');
    flushSync(() => setRows(all));
    window.print();
    setRows(undefined);
  };
  return (
    <>
      <span role="status">{said}</span>
      <button className="quiet" onClick={() => void print().catch((error: unknown) => setSaid(String(error)))}>
        Print
      </button>
      {rows &&
        createPortal(
          <div className="print-only p-4">
            <h1 className="text-[16px] font-semibold">{props.title}</h1>
            <p>
              {props.asks} Printed {formatInstant(now(), props.zone)}.
            </p>
            <table className="mt-2 w-full text-left text-[10px]">
              <thead>
                <tr>
                  <th>{props.asked.rows === 'groups' ? 'Group' : 'Unit or person'}</th>
                  {settings.map((setting) => (
                    <th key={setting.key}>{setting.title}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr key={`${row.kind} ${row.id} ${row.depth}`}>
                    <td style={{ paddingLeft: row.depth * 10 }}>{row.name}</td>
                    {row.cells.map((cell, i) => (
                      <td key={settings[i]?.key}>
                        {cell.shares
                          .map((share) =>
                            cell.shares.length === 1 ? share.value : `${share.value}: ${share.accounts}`,
                          )
                          .join('; ')}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>,
          document.body,
        )}
    </>
  );
}
