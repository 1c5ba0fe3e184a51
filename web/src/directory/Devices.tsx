import { type Schemas } from '../api/client';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';

/** What an account uses, with the version of each app on it; nothing where no device is known. */
export function Devices(props: { devices: Schemas['DeviceView'][]; zone: string }) {
  if (props.devices.length === 0) return null;
  return (
    <section aria-label="Devices">
      <h2 className="font-display mt-5 text-[16px] font-semibold">
        Devices{' '}
        <span className="text-ink2 font-sans text-[14px] font-normal">{count(props.devices.length, 'device')}</span>
      </h2>
      <ul>
        {props.devices.map((device) => (
          <li key={device.id} className="border-line border-b py-1">
            <span className="flex items-baseline gap-2">
              <span className="min-w-0 truncate">{device.name ?? device.kind}</span>
              {device.name && <span className="text-ink2 text-[13px]">{device.kind}</span>}
              <span className="text-ink2 ml-auto text-[13px]">
                {device.seen ? `last seen ${formatInstant(device.seen, props.zone)}` : 'never seen'}
              </span>
            </span>
            <span className="text-ink2 block text-[13px]">
              {Object.entries(device.apps)
                .map(([app, version]) => `${app} ${version}`)
                .join(', ') || 'no app known'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
