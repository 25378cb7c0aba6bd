/** Id of the stroke that a click would make: it is shown before it is made. */
export const TO_COME = 'to-come';
