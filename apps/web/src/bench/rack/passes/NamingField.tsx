/** The name of a row while it is written anew: Enter or leaving takes it, Esc gives up; an empty or unchanged one is no change. */
export function NamingField({ label, name, onName }: { label: string; name: string; onName(name: string | null): void }) {
  const take = (text: string) => onName(text.trim() && text.trim() !== name ? text.trim() : null);
  return (
    <input
      className="pass-name"
      aria-label={label}
      autoFocus
      defaultValue={name}
      onBlur={(event) => take(event.target.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") take(event.currentTarget.value);
        if (event.key === "Escape") onName(null);
      }}
    />
  );
}
