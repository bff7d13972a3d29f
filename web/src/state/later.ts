import { defineAsyncComponent, type AsyncComponentLoader, type Component } from 'vue'
import { useMessages } from './messages.ts'

/** Parts of the program that are fetched once they are needed. */

export const NOT_FETCHED =
  'A part of Fernwick could not be fetched. It is tried again while this page is open; ' +
  'if that does not help once there is a connection, load the page anew.'
/** How long until it is tried again, in milliseconds. */
const AGAIN = 2_000

/** @throws Error that says so to people, where it cannot be fetched */
export const fetched = <T>(part: Promise<T>): Promise<T> =>
  part.catch(() => {
    throw new Error(NOT_FETCHED)
  })

/** A component that is fetched once it is shown: without a connection, when that is back. */
export const later = <T extends Component>(loader: AsyncComponentLoader<T>): T =>
  defineAsyncComponent({
    loader,
    onError(_error, retry, _fail, attempts) {
      if (attempts === 1) useMessages().fault(NOT_FETCHED)
      setTimeout(retry, AGAIN)
    },
  })
/** Asks for styles again that could not be fetched, until they come: whoever needs them asks once. */
export const refetchStyles = (): void =>
  document.addEventListener(
    'error',
    ({ target }) => {
      if (target instanceof HTMLLinkElement && target.rel === 'stylesheet')
        setTimeout(() => target.replaceWith(target.cloneNode()), AGAIN)
    },
    true,
  )
