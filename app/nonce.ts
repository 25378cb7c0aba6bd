import { createContext } from 'react';

/** The nonce of this answer's own scripts; empty in the browser, where it is no longer needed. */
export const Nonce = createContext('');
