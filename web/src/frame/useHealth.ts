import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { onTrouble } from '../api/client';

const ASKED_EVERY_MS = 15_000;

interface Part {
  name: string;
  well: boolean;
  words: string | null;
}

/** What keeps the server from its work, in one sentence; empty when nothing does. Asked now and then, and after each refusal of the server's own making. */
export function useHealth(): string {
  const queries = useQueryClient();
  useEffect(() => onTrouble(() => void queries.invalidateQueries({ queryKey: ['health'] })), [queries]);
  const found = useQuery({
    queryKey: ['health'],
    queryFn: async () => {
      const told = (await (await fetch('/health/ready')).json()) as { parts?: Part[] };
      // A proxy in front may answer in its place.
      return Array.isArray(told.parts) ? told.parts : [];
    },
    refetchInterval: ASKED_EVERY_MS,
    // That nobody answers at all is said by the stream of events.
    retry: false,
  });
  if (!found.data || found.isError) return '';
  // An estate that is not loaded is told by the first page.
  return found.data.find((part) => !part.well && part.name !== 'estate')?.words ?? '';
}
