import { useCallback, useEffect, useRef, useState } from 'react';
import type { Edit, Problem } from '../api/client';
import { editsBetween, type Planned, type PolicyForm } from './policyDiff';

const REST_MS = 120;

/**
 * A sheet that stages what is typed once it has rested for a moment. What is refused stays in the sheet with the reason; what
 * fits beside it is staged all the same. It stays for as long as the browser's tab lives.
 *
 * @param stands the sheet as the draft has it
 * @param current whether that is how the draft has it now, and not how it had it before the last edit
 */
export function usePolicyForm(
  stands: PolicyForm,
  current: boolean,
  stage: (edits: Edit[]) => Promise<Problem | undefined>,
) {
  const key = `typed ${stands.id ?? ''}`;
  const [typed, setTyped] = useState<PolicyForm | undefined>(() => {
    const text = sessionStorage.getItem(key);
    return text ? (JSON.parse(text) as PolicyForm) : undefined;
  });
  const [problem, setProblem] = useState<{ problem: Problem; planned: Planned[] }>();
  const wanted = useRef<PolicyForm | undefined>(typed);
  // What the server has taken; it is known here before the sheet is asked for again.
  const taken = useRef(stands);
  const tried = useRef<PolicyForm | undefined>(undefined);
  const accepted = useRef<PolicyForm | undefined>(undefined);
  const staging = useRef(stage);
  useEffect(() => {
    staging.current = stage;
  }, [stage]);
  const again = useRef(() => {});
  const timer = useRef(0);
  const running = useRef(false);
  const send = useCallback(async () => {
    if (running.current || !wanted.current) return;
    running.current = true;
    try {
      const sheet = wanted.current;
      tried.current = sheet;
      const planned = editsBetween(taken.current, sheet);
      if (planned.length === 0) {
        setProblem(undefined);
        setTyped(undefined);
        wanted.current = undefined;
        return;
      }
      const refused = await staging.current(planned.map((p) => p.edit));
      if (!refused) {
        setProblem(undefined);
        taken.current = sheet;
        accepted.current = sheet;
        return;
      }
      setProblem({ problem: refused, planned });
      const bad = new Set(refused.defects?.map((d) => Number(d.pointer.split('/')[2])));
      const good = planned.filter((_, i) => !bad.has(i));
      if (refused.status === 422 && good.length > 0) await staging.current(good.map((p) => p.edit));
    } finally {
      running.current = false;
      // What was typed while this was under way comes next.
      if (wanted.current && wanted.current !== tried.current) window.setTimeout(() => again.current(), 0);
    }
  }, []);
  useEffect(() => {
    again.current = () => void send();
  }, [send]);
  const text = JSON.stringify(stands);
  useEffect(() => {
    if (!current || running.current) return;
    taken.current = JSON.parse(text) as PolicyForm;
    if (!wanted.current) return;
    // Once all of it was staged the draft has the word: it may have been undone already.
    if (wanted.current === accepted.current || editsBetween(taken.current, wanted.current).length === 0) {
      wanted.current = undefined;
      setTyped(undefined);
    } else if (wanted.current !== tried.current) void send();
  }, [text, current, send]);
  const change = useCallback(
    (next: PolicyForm) => {
      wanted.current = next;
      setTyped(next);
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void send(), REST_MS);
    },
    [send],
  );
  // What was refused before the page was loaded again is told again.
  useEffect(() => {
    if (wanted.current) void send();
  }, [send]);
  useEffect(() => {
    if (typed && problem) sessionStorage.setItem(key, JSON.stringify(typed));
    else if (!typed) sessionStorage.removeItem(key);
  }, [key, typed, problem]);
  // What was typed just before the sheet closes is not lost.
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
      void send();
    },
    [send],
  );
  return { sheet: typed ?? stands, change, problem };
}
