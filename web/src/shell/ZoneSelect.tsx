import { NativeSelect } from '@mantine/core';
import { useEffect, useState } from 'react';

const none = '';

/** Chooses a time zone, or what holds where none is chosen. */
export function ZoneSelect({
  label,
  description,
  wordNone,
  zone,
  onChange,
}: {
  label: string;
  description: string;
  wordNone: string;
  zone: string | null;
  onChange: (zone: string | null) => void;
}) {
  // Browser and server know zones of different years, so the list is the browser's alone.
  const [zones, setZones] = useState(zone === null ? [] : [zone]);
  useEffect(() => setZones(['UTC', ...Intl.supportedValuesOf('timeZone').filter((one) => one !== 'UTC')]), []);
  return (
    <NativeSelect
      label={label}
      description={description}
      data={[{ value: none, label: wordNone }, ...zones.filter((one) => one !== wordNone).map((one) => ({ value: one, label: one }))]}
      value={zone ?? none}
      onChange={({ currentTarget }) => onChange(currentTarget.value === none ? null : currentTarget.value)}
    />
  );
}
