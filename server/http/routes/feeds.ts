import { feedBody } from '#contract/feeds.ts'
import { feedCalendar } from '../../areas/feeds/calendar.ts'
import { endFeed, listFeeds, makeFeed } from '../../areas/feeds/service.ts'
import { Download } from '../download.ts'
import { read, write, type Route } from '../route.ts'

/** What an address leads to, answered on a thread: as whoever made it sees it. */
export const FEED: Route = read({
  path: '/feeds/:id/calendar',
  who: 'everybody',
  about: 'One of my calendars, as a file',
  apart: 'work',
  handle: ({ engine, viewer, param }) => {
    const bytes = feedCalendar(engine, viewer, param('id'))
    return new Download('fernwick.ics', 'text/calendar; charset=utf-8', bytes)
  },
})
/** Calendars that calendar programs subscribe to. */
export const FEEDS: readonly Route[] = [
  read({
    path: '/feeds',
    who: 'everybody',
    about: 'My calendars that programs subscribe to',
    handle: ({ engine, viewer }) => listFeeds(engine, viewer),
  }),
  FEED,
  write('post', {
    path: '/feeds',
    who: 'everybody',
    about: 'Make an address to subscribe to, or reset the one there is',
    body: feedBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeFeed(engine, viewer, body),
  }),
  write('delete', {
    path: '/feeds/:id',
    who: 'everybody',
    about: 'End an address that programs subscribe to',
    handle: ({ engine, viewer, param }) => endFeed(engine, viewer, param('id')),
  }),
]
