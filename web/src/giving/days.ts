/**
 * yearDay shows a day of the year, MM-DD, as it is written in day.month order, and reads it written either way: what
 * cannot be read stays as it is typed, so that the server says what is wrong with it.
 */
export const yearDay = {
  show: (day: string): string => {
    const m = /^(\d\d)-(\d\d)$/.exec(day);
    return m ? `${Number(m[2])}.${Number(m[1])}.` : day;
  },
  read: (typed: string): string => {
    const two = (n: string) => n.padStart(2, "0");
    const day = /^\s*(\d{1,2})\.\s?(\d{1,2})\.\s*$/.exec(typed);
    if (day) return `${two(day[2]!)}-${two(day[1]!)}`;
    const slash = /^\s*(\d{1,2})\/(\d{1,2})\s*$/.exec(typed);
    return slash ? `${two(slash[1]!)}-${two(slash[2]!)}` : typed;
  },
};
