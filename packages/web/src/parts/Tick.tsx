import './tick.css';

/** The browser's own checkbox with its label, for screens that have no room in what they load for a library's. */
export function Tick({ label, checked, set }: { label: string; checked: boolean; set(checked: boolean): void }) {
  return (
    <label className="tick">
      <input type="checkbox" checked={checked} onChange={(event) => set(event.currentTarget.checked)} />
      {label}
    </label>
  );
}
