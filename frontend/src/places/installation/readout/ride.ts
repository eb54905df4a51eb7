/** Where a learning ride is: not begun, held for some seconds, waiting with the key off, over. */
export type Ride = { phase: "idle" | "hold" | "off" | "over"; since_s: number; held_s: number };
export type Asked = { hold_kmh: number; within_kmh: number; hold_s: number; key_off_s: number };

export const IDLE: Ride = { phase: "idle", since_s: 0, held_s: 0 };

/** The ride a moment later. Without a speed (null) a person watches it; one that leaves the band begins anew. */
export function later(ride: Ride, now_s: number, kmh: number | null, asked: Asked): Ride {
  if (ride.phase === "hold") {
    if (kmh !== null && Math.abs(kmh - asked.hold_kmh) > asked.within_kmh)
      return ride.held_s === 0 && ride.since_s === now_s ? ride : { ...ride, since_s: now_s, held_s: 0 };
    const held_s = now_s - ride.since_s;
    return held_s >= asked.hold_s ? { phase: "off", since_s: now_s, held_s: 0 } : { ...ride, held_s };
  }
  if (ride.phase === "off") {
    const held_s = now_s - ride.since_s;
    return held_s >= asked.key_off_s ? { phase: "over", since_s: now_s, held_s: 0 } : { ...ride, held_s };
  }
  return ride;
}

/** Seconds that are left of what is under way. */
export const left_s = (ride: Ride, asked: Asked) =>
  ride.phase === "hold"
    ? Math.ceil(asked.hold_s - ride.held_s)
    : ride.phase === "off"
      ? Math.ceil(asked.key_off_s - ride.held_s)
      : 0;
