import { describe, expect, it } from 'vitest';
import type { ClimbViewModel } from '../api/client';
import { layOut, leanAt } from './layout';

type Statement = ClimbViewModel['statements'][number];

const statement = (rung: number, verdict: Statement['verdict'], more: Partial<Statement> = {}): Statement => ({
  rung,
  policy: `p${rung}${verdict}`,
  name: 'Quiet bridge',
  cap: false,
  lock: false,
  value: 'Off',
  verdict,
  reason: 'decides',
  via: 'Bridge',
  ...more,
});

function drawing(statements: Statement[], decidingRung: number, gates: ClimbViewModel['gates'] = []): ClimbViewModel {
  return {
    account: 'Mirela Osk',
    setting: 'Talk between two',
    app: 'Chat',
    help: null,
    answer: 'No',
    because: [],
    value: 'Off',
    decided: 'Off',
    text: '',
    rungs: [
      { height: 'builtin', depth: 0, name: 'Built-in', place: 'the catalogue' },
      { height: 'organisation', depth: 0, name: 'Organisation', place: 'Skerrymore Ferries' },
      { height: 'unit', depth: 1, name: 'Unit', place: 'Fleet' },
      { height: 'group', depth: 0, name: 'Group', place: 'in 2 groups' },
      { height: 'person', depth: 0, name: 'Person', place: 'Mirela Osk' },
    ],
    partial: false,
    decidingRung,
    builtIn: { value: 'On', reason: 'lower rung' },
    statements,
    gates,
  };
}

describe('the layout of a ladder', () => {
  it('stacks the rungs from the person down to the built-in value, without overlap', () => {
    const layout = layOut(drawing([statement(2, 'decides'), statement(3, 'paused'), statement(3, 'ended')], 2), 600);
    expect(layout.steps.map((s) => s.rung.height)).toEqual(['person', 'group', 'unit', 'organisation', 'builtin']);
    layout.steps.slice(1).forEach((step, i) => expect(step.top).toBe(layout.steps[i]?.bottom));
    for (const step of layout.steps)
      for (const row of step.rows) {
        expect(row.y).toBeGreaterThan(step.top);
        expect(row.y).toBeLessThan(step.bottom);
      }
  });

  it('lets the value climb from the row that decides', () => {
    const layout = layOut(drawing([statement(2, 'decides'), statement(2, 'tie')], 2), 600);
    const unit = layout.steps.find((s) => s.decides);
    expect(unit?.rows.map((r) => r.decides)).toEqual([true, false]);
    expect(layout.decidesY).toBe(unit?.rows[0]?.y);
  });

  it('cuts off everything above the lowest lock that counts', () => {
    const layout = layOut(
      drawing([statement(1, 'decides', { lock: true }), statement(3, 'cut', { lock: true })], 1),
      600,
    );
    expect(layout.steps.filter((s) => s.cut).map((s) => s.rung.height)).toEqual(['person', 'group', 'unit']);
    expect(layout.steps.find((s) => s.lock)?.rung.height).toBe('organisation');
  });

  it('lays caps across the top, the binding one lowest, and gates over them', () => {
    const caps = [statement(1, 'binds', { cap: true, policy: 'a' }), statement(2, 'slack', { cap: true, policy: 'b' })];
    const gates = [{ need: 'Licence', met: true, evidence: '' }];
    const layout = layOut(drawing([statement(2, 'decides'), ...caps], 2, gates), 600);
    expect(layout.beams.map((b) => b.binds)).toEqual([false, true]);
    expect(layout.plates[0]?.y).toBeLessThan(layout.beams[0]?.y ?? 0);
    expect(layout.beams[1]?.y).toBeLessThan(layout.railTop);
    expect(layout.steps.every((s) => s.rows.every((r) => !r.statement.cap))).toBe(true);
  });

  it('spreads into the room there is, but only so far', () => {
    const tight = layOut(drawing([statement(2, 'decides')], 2), 600);
    const spread = layOut(drawing([statement(2, 'decides')], 2), 600, 5000);
    expect(spread.height).toBeGreaterThan(tight.height);
    expect(spread.height).toBeLessThan(tight.height * 1.6);
    expect(leanAt(tight, tight.railFoot)).toBe(0);
    expect(leanAt(tight, tight.railTop)).toBeCloseTo(tight.lean);
  });
});
