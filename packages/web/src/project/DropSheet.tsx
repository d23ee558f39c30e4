import type { ReactNode } from 'react';

/** Covers the page while a file hovers over it. */
export const DropSheet = ({ children }: { children: ReactNode }) => <div className="dropSheet">{children}</div>;
