"""Several things by turns in the time of the board: what programs for boards use of asyncio.

A task is a coroutine that gives up its turn with the time from which on it may go on, or with
the list of those that wait for something.
"""
board = None  # the time, a pause, and what a turn costs; whoever runs a program sets it
ready, running = [], None  # the time from which on each task may go on, and the task


class Cancelled(BaseException):
    pass


class Task:
    def __init__(self, coroutine):
        self.coroutine, self.over, self.result, self.error, self.waiting, self.broken = coroutine, False, None, None, [], False
        ready.append((board.now(), self))

    def go_on(self):
        global running
        running = self
        try:
            until = self.coroutine.throw(Cancelled) if self.broken else self.coroutine.send(None)
        except StopIteration as e:
            self.end(e.value, None)
        except Cancelled as e:
            self.end(None, e)
        except Exception as e:
            self.end(None, e)
            if not self.waiting:
                raise
        else:
            if isinstance(until, list):
                until.append(self)
            else:
                ready.append((until, self))

    def end(self, result, error):
        self.over, self.result, self.error = True, result, error
        wake(self.waiting)

    def done(self):
        return self.over

    def cancel(self):
        self.broken = True
        if not any(t is self for _, t in ready):
            ready.append((board.now(), self))
        return not self.over

    def __await__(self):
        while not self.over:
            yield self.waiting
        if self.error:
            raise self.error
        return self.result


def wake(waiting):
    ready.extend((board.now(), t) for t in waiting)
    waiting.clear()


class Sleep:
    def __init__(self, seconds):
        self.seconds = seconds

    def __await__(self):
        yield board.now() + max(0, int(self.seconds * 1e9))


class Event:
    def __init__(self):
        self.flag, self.waiting = False, []

    def set(self):
        self.flag = True
        wake(self.waiting)

    def clear(self):
        self.flag = False

    def is_set(self):
        return self.flag

    async def wait(self):
        while not self.flag:
            await Waits(self.waiting)
        return True


class Waits:
    def __init__(self, waiting):
        self.waiting = waiting

    def __await__(self):
        yield self.waiting


class Lock:
    def __init__(self):
        self.held, self.waiting = False, []

    async def acquire(self):
        while self.held:
            await Waits(self.waiting)
        self.held = True

    def release(self):
        self.held = False
        wake(self.waiting)

    async def __aenter__(self):
        await self.acquire()

    async def __aexit__(self, *_):
        self.release()


async def gather(*all, return_exceptions=False):
    tasks = [t if isinstance(t, Task) else Task(t) for t in all]
    return [await t for t in tasks]


def go(main):
    """Let tasks go on, the one first whose time comes first, until one is over; None: for ever."""
    while ready and not (main and main.over):
        i = min(range(len(ready)), key=lambda k: ready[k][0])
        at, task = ready.pop(i)
        if at > board.now():
            board.pause((at - board.now()) / 1e9)
        if not task.over:
            board.spend()
            task.go_on()
    if main and main.error:
        raise main.error
    return main.result if main else None


class Loop:
    create_task = staticmethod(Task)
    run_until_complete = staticmethod(lambda c: go(Task(c)))
    run_forever = staticmethod(lambda: go(None))


def contents():
    """What the module has, by the names that programs know."""
    return {
        "run": lambda c: go(Task(c)), "create_task": Task, "sleep": Sleep, "sleep_ms": lambda ms: Sleep(ms / 1e3), "gather": gather, "Event": Event,
        "Lock": Lock, "Task": Task, "CancelledError": Cancelled, "get_event_loop": Loop, "new_event_loop": Loop, "current_task": lambda: running,
    }
