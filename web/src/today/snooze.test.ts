import { act, renderHook } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { DONE, markVisited, isSnoozed, lastVisit, useSnoozed } from './snooze';

beforeEach(() => {
  window.localStorage.clear();
  window.sessionStorage.clear();
});

describe('what one puts away', () => {
  it('is away until its day, or for good, and only for oneself', () => {
    const { result } = renderHook(() => useSnoozed('Vera'));
    act(() => result.current[1]('seats:a', '2026-11-30T08:00:00Z'));
    act(() => result.current[1]('review:b', DONE));
    const [away] = result.current;
    expect(isSnoozed(away, 'seats:a', Date.parse('2026-11-29T08:00:00Z'))).toBe(true);
    expect(isSnoozed(away, 'seats:a', Date.parse('2026-12-01T08:00:00Z'))).toBe(false);
    expect(isSnoozed(away, 'review:b', Date.parse('2027-12-01T08:00:00Z'))).toBe(true);
    expect(isSnoozed(away, 'other', Date.now())).toBe(false);
    expect(renderHook(() => useSnoozed('Ivo')).result.current[0]).toEqual({});
    expect(renderHook(() => useSnoozed('Vera')).result.current[0]).toEqual(away);
  });

  it('comes back when it is asked back', () => {
    const { result } = renderHook(() => useSnoozed('Vera'));
    act(() => result.current[1]('seats:a', DONE));
    act(() => result.current[2]());
    expect(result.current[0]).toEqual({});
  });
});

describe('when one was here before', () => {
  it('stays what it was for as long as the tab is open', () => {
    expect(lastVisit('Vera')).toBeUndefined();
    markVisited('Vera');
    expect(lastVisit('Vera')).toBeUndefined();
    window.sessionStorage.clear();
    const before = lastVisit('Vera');
    expect(before).toBeDefined();
    markVisited('Vera');
    expect(lastVisit('Vera')).toBe(before);
  });
});
