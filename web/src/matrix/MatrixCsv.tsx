import { useState } from 'react';
import { RefusedError, type Problem } from '../api/client';
import { type MatrixQuery } from './useMatrixWindow';

/** The whole matrix as it is asked for, as a file. */
export function MatrixCsv({
  asked,
  query,
}: {
  asked: MatrixQuery;
  query: Record<string, string | number | undefined>;
}) {
  const fetchIt = async () => {
    const params = new URLSearchParams({ format: 'csv' });
    for (const [name, value] of Object.entries(query)) if (value !== undefined) params.set(name, String(value));
    const got = await fetch(`/api/v1/matrix?${params.toString()}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(asked),
    });
    // A problem is said, never saved as if it were the file.
    if (!got.ok) throw new RefusedError((await got.json()) as Problem);
    const link = document.createElement('a');
    link.href = URL.createObjectURL(await got.blob());
    link.download = 'matrix.csv';
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const [state, setState] = useState('');
  const save = async () => {
    setState('Writing the file…');
    try {
      await fetchIt();
      setState('');
    } catch (error) {
      setState(
        error instanceof RefusedError ? error.message : 'The server does not answer; nothing was saved. Try again.',
      );
    }
  };
  return (
    <span className="ml-auto flex items-baseline gap-3">
      <span role="status">{state}</span>
      <button className="quiet" onClick={() => void save()}>
        As CSV
      </button>
    </span>
  );
}
