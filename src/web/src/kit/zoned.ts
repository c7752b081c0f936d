/** Dates by the clock of a zone, as uPlot wants them: the browser's own fields hold the zone's. Asking for the offset is dear, and it holds for a quarter of an hour at least. */
const quarter = 900;
const mostKept = 10_000;

export function zonedDate(zone: string): (seconds: number) => Date {
  const format = new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    second: "numeric",
  });
  const offsets = new Map<number, number>();
  return (seconds) => {
    const at = Math.floor(seconds / quarter);
    let offset = offsets.get(at);
    if (offset === undefined) {
      const part = Object.fromEntries(format.formatToParts(at * quarter * 1000).map((p) => [p.type, Number(p.value)]));
      offset = Date.UTC(part.year!, part.month! - 1, part.day, part.hour, part.minute, part.second) - at * quarter * 1000;
      if (offsets.size > mostKept) offsets.clear();
      offsets.set(at, offset);
    }
    const wall = new Date(seconds * 1000 + offset);
    return new Date(
      wall.getUTCFullYear(),
      wall.getUTCMonth(),
      wall.getUTCDate(),
      wall.getUTCHours(),
      wall.getUTCMinutes(),
      wall.getUTCSeconds(),
      wall.getUTCMilliseconds(),
    );
  };
}
