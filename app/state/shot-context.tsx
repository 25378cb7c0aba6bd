import { createContext, use } from 'react';
import { useStore } from 'zustand';
import type { ShotState, ShotStore } from './shot-store.ts';

export const ShotContext = createContext<ShotStore | null>(null);

export function useShotStore(): ShotStore {
  const store = use(ShotContext);
  if (!store) throw new Error('There is no open shot here.');
  return store;
}

export const useShot = <T,>(select: (state: ShotState) => T): T => useStore(useShotStore(), select);
