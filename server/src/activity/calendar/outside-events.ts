/** An event of a calendar elsewhere may take weeks. */
export const mostOutsideDays = 32;

/**
 * What the calendars elsewhere of `:people` have while `:from` to `:to` lasts, of those that are still read: as a SELECT over `e`, the event, and
 * `o`, its calendar. Relies on outside_event_of_day.
 * @param isBusy only what takes time
 */
export const outsideEvents = (columns: string, { isBusy }: { readonly isBusy: boolean }): string =>
  `SELECT ${columns} FROM outside_event e JOIN outside_calendar o ON o.id = e.calendar_id
    WHERE e.user_id IN (:people) AND o.removed_at IS NULL AND e.starts_at > :from - INTERVAL ${mostOutsideDays} DAY AND e.starts_at < :to
      AND e.ends_at > :from${isBusy ? ' AND e.is_busy AND o.is_busy' : ''}`;
