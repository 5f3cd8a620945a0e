import type { ReactNode } from 'react';

interface FieldProps {
  readonly label: ReactNode;
  /** More room for where it is set than for what it is called. */
  readonly wide?: boolean;
  readonly title?: string | undefined;
  readonly children: ReactNode;
}

/** One option of a panel: what it is called, and where it is set. */
export function Field({ label, wide = false, title, children }: FieldProps) {
  return (
    <label className={wide ? 'option wide' : 'option'} title={title}>
      <span>{label}</span>
      {children}
    </label>
  );
}
