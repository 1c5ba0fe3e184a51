import { useEffect, useRef, useState } from 'react';
import { fit } from '../parts/measure';
import { Pressable } from '../parts/Pressable';
import { day, formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';
import { DAY, lanes, type Stretch } from './laneLayout';
import type { Previews } from './queries';

const LABELS = 168;
const ROW = 30;
const TOP = 26;
const LEAST = 2;
const NAME = 150;
const LEGIBLE = 28;
const SHORTEST = 14 * DAY;
const LONGEST = 400 * DAY;

/**
 * Rings as lanes from the innermost outward over one line of dates; releases move through them, to scale. What is open is a full line,
 * what opens on a day that is set a hollow one, what is only planned a broken one, what is held a hatched one.
 */
export function RingLanes(props: {
  previews: Previews;
  zone: string;
  release?: string;
  ring?: string;
  onRelease: (setting: string) => void;
  onRing: (ring: string) => void;
}) {
  const { previews, zone } = props;
  const now = Date.parse(previews.at);
  const [span, setSpan] = useState({ start: now - 42 * DAY, end: now + 42 * DAY });
  const [width, setWidth] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const room = Math.max(100, width - LABELS);
  const x = (at: number) => LABELS + (room * (at - span.start)) / (span.end - span.start);
  const pan = (by: number) =>
    setSpan((s) => ({ start: s.start + by * (s.end - s.start), end: s.end + by * (s.end - s.start) }));
  const zoom = (by: number) =>
    setSpan((s) => {
      const length = Math.min(LONGEST, Math.max(SHORTEST, (s.end - s.start) * by));
      const middle = (s.start + s.end) / 2;
      return { start: middle - length / 2, end: middle + length / 2 };
    });
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const seen = new ResizeObserver(() => setWidth(element.clientWidth));
    seen.observe(element);
    const wheel = (e: WheelEvent) => {
      // A wheel that is turned with a key held moves the dates; without one the page moves, as everywhere.
      if (!e.shiftKey && !e.ctrlKey && Math.abs(e.deltaX) <= Math.abs(e.deltaY)) return;
      e.preventDefault();
      if (e.ctrlKey) zoom(e.deltaY > 0 ? 1.15 : 0.87);
      else pan(Math.sign(e.deltaX || e.deltaY) * 0.06);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => {
      seen.disconnect();
      element.removeEventListener('wheel', wheel);
    };
  }, []);
  const drawn = lanes(previews.rings, previews.releases, { ...span, now }, (NAME * (span.end - span.start)) / room);
  const tops: number[] = [];
  let foot = TOP;
  for (const lane of drawn) {
    tops.push(foot);
    foot += Math.max(LEAST, lane.rows) * ROW + 8;
  }
  return (
    <section aria-label="Releases moving through the rings">
      <div className="flex flex-wrap items-center gap-2">
        <p className="text-ink2 text-[13px]">
          {day(new Date(span.start).toISOString().slice(0, 10))} to {day(new Date(span.end).toISOString().slice(0, 10))}
          . A full line is open, a hollow one opens that day, a broken one is only planned.
        </p>
        <span className="ml-auto flex">
          <button className="button h-7 px-2" aria-label="Earlier" onClick={() => pan(-0.25)}>
            ←
          </button>
          <button
            className="button -ml-px h-7 px-2 text-[13px]"
            onClick={() => setSpan({ start: now - 42 * DAY, end: now + 42 * DAY })}
          >
            Today
          </button>
          <button className="button -ml-px h-7 px-2" aria-label="Later" onClick={() => pan(0.25)}>
            →
          </button>
          <button className="button ml-2 h-7 px-2" aria-label="A longer span" onClick={() => zoom(1.4)}>
            −
          </button>
          <button className="button -ml-px h-7 px-2" aria-label="A shorter span" onClick={() => zoom(0.7)}>
            +
          </button>
        </span>
      </div>
      {/* The keys move and stretch the dates; the releases are buttons of their own. */}
      {/* eslint-disable-next-line jsx-a11y/no-static-element-interactions */}
      <div
        ref={box}
        className="mt-2 overflow-hidden"
        onKeyDown={(e) => {
          const act = {
            ArrowLeft: () => pan(-0.1),
            ArrowRight: () => pan(0.1),
            '+': () => zoom(0.7),
            '-': () => zoom(1.4),
          }[e.key];
          if (!act) return;
          e.preventDefault();
          act();
        }}
      >
        {width > 0 && (
          <svg
            width={width}
            height={foot + 2}
            role="list"
            aria-label="Rings, the innermost first"
            className="block select-none"
          >
            <defs>
              <pattern id="held" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                <rect width="6" height="6" fill="var(--well)" />
                <rect width="2.5" height="6" fill="var(--shut)" />
              </pattern>
            </defs>
            <Dates start={span.start} end={span.end} now={now} x={x} foot={foot} room={room} />
            {drawn.map((lane, i) => {
              const top = tops[i] ?? 0;
              const next = tops[i + 1] ?? foot;
              return (
                <g key={lane.ring.id} role="listitem" aria-label={`${lane.ring.name}: ${told(lane.ring)}`}>
                  <rect
                    x={0}
                    y={top}
                    width={width}
                    height={next - top}
                    fill={i % 2 === 0 ? 'var(--paper)' : 'transparent'}
                    opacity={0.6}
                  />
                  <line x1={0} x2={width} y1={next} y2={next} stroke="var(--line2)" />
                  <Pressable label={`Who is in ${lane.ring.name}`} onPress={() => props.onRing(lane.ring.id)}>
                    <rect x={0} y={top} width={LABELS - 8} height={next - top} fill="transparent" />
                    {props.ring === lane.ring.id && (
                      <rect x={0} y={top} width={4} height={next - top} fill="var(--decide)" />
                    )}
                    <text x={12} y={top + 22} fontSize={15} fontWeight={650} fill="var(--ink)">
                      {fit(lane.ring.name, LABELS - 24, 15, 650)}
                    </text>
                    <text x={12} y={top + 41} fontSize={13} fill="var(--ink2)">
                      {fit(told(lane.ring), LABELS - 20, 13)}
                    </text>
                  </Pressable>
                  {lane.stretches.map((stretch) => (
                    <Line
                      key={stretch.release.setting}
                      stretch={stretch}
                      from={Math.max(LABELS, x(stretch.from))}
                      to={Math.min(width, x(stretch.until ?? span.end + DAY))}
                      y={top + 4 + stretch.row * ROW}
                      begins={stretch.from >= span.start}
                      now={now}
                      zone={zone}
                      width={width}
                      ring={lane.ring.name}
                      chosen={props.release === stretch.release.setting}
                      onPress={() => props.onRelease(stretch.release.setting)}
                    />
                  ))}
                </g>
              );
            })}
            {now > span.start && now < span.end && (
              <g aria-hidden>
                <line x1={x(now)} x2={x(now)} y1={TOP - 8} y2={foot} stroke="var(--draft)" strokeWidth={1.5} />
                <text x={x(now)} y={TOP - 12} fontSize={13} fontWeight={650} textAnchor="middle" fill="var(--draft)">
                  today
                </text>
              </g>
            )}
          </svg>
        )}
      </div>
    </section>
  );
}

/** How many may and did, in few words. */
function told(ring: Previews['rings'][number]): string {
  return ring.asksConsent
    ? `${formatNumber(ring.may)} allowed, ${formatNumber(ring.did)} joined`
    : count(ring.may, 'account');
}

function Line(props: {
  stretch: Stretch;
  from: number;
  to: number;
  y: number;
  begins: boolean;
  now: number;
  zone: string;
  width: number;
  ring: string;
  chosen: boolean;
  onPress: () => void;
}) {
  const { stretch, from, y } = props;
  const { release } = stretch;
  const to = Math.max(from + 4, props.to);
  const held = release.held !== null && stretch.planned;
  const open = !stretch.planned && stretch.from <= props.now;
  const words = `${release.title}: ${stretch.planned ? 'planned' : open ? 'open' : 'opens'} to ${props.ring} ${open ? 'since' : 'on'} ${formatInstant(new Date(stretch.from).toISOString(), props.zone)}${held ? ', held' : ''}`;
  const room = Math.min(Math.max(to - from, NAME - 10), props.width - from - 4);
  return (
    <Pressable label={words} pressed={props.chosen} onPress={props.onPress}>
      <rect x={from} y={y} width={Math.max(to - from, 40)} height={ROW - 2} fill="transparent" />
      <text x={from + 2} y={y + 13} fontSize={13} fontWeight={600} fill="var(--ink)">
        {room > LEGIBLE && fit(held ? `${release.title}, held` : release.title, room, 13, 600)}
        <title>{words}</title>
      </text>
      <rect
        x={from}
        y={y + 18}
        width={to - from}
        height={6}
        fill={held ? 'url(#held)' : open ? 'var(--decide)' : 'var(--sheet)'}
        stroke={held ? 'var(--shut)' : 'var(--decide)'}
        strokeWidth={open ? 0 : 1.5}
        strokeDasharray={stretch.planned && !held ? '4 3' : undefined}
      />
      {props.begins && <rect x={from} y={y + 15} width={3} height={12} fill="var(--decide)" />}
      {props.chosen && <rect x={from} y={y + 26} width={to - from} height={2} fill="var(--draft)" />}
    </Pressable>
  );
}

/** Mondays as thin lines, with as many dates as there is room for. */
function Dates(props: {
  start: number;
  end: number;
  now: number;
  x: (at: number) => number;
  foot: number;
  room: number;
}) {
  const first = new Date(props.start);
  first.setUTCHours(0, 0, 0, 0);
  first.setUTCDate(first.getUTCDate() + ((8 - first.getUTCDay()) % 7));
  const weeks = Math.ceil((props.end - first.getTime()) / (7 * DAY));
  const each = Math.max(1, Math.ceil((weeks * 64) / props.room));
  return (
    <g aria-hidden>
      {Array.from({ length: Math.max(0, weeks) }, (_, i) => first.getTime() + i * 7 * DAY).map((at, i) => (
        <g key={at}>
          <line x1={props.x(at)} x2={props.x(at)} y1={TOP} y2={props.foot} stroke="var(--line)" />
          {i % each === 0 &&
            Math.abs(props.x(at) - props.x(props.now)) > 44 &&
            props.x(at) < LABELS + props.room - 30 && (
              <text x={props.x(at)} y={14} fontSize={12} textAnchor="middle" fill="var(--ink2)">
                {new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
              </text>
            )}
        </g>
      ))}
    </g>
  );
}
