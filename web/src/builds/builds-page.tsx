import { keepPreviousData, useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { AwayError, answer, api, type BuildSummary, type Library, ProblemError } from "../api/client";
import { inLines } from "../api/errors";
import { Button, Choice } from "../shared/controls";
import { download } from "../shared/download";
import { NotTaken } from "../shared/file-button";
import { Head } from "../shared/head";
import { useKept } from "../shared/kept";
import { useLibrary } from "../shared/library";
import { Menu, MenuItem } from "../shared/menu";
import { SearchField } from "../shared/search-field";
import { waitLonger } from "../shared/wait";
import type { Act } from "./act";
import { Found } from "./found";
import { Starts } from "./starts";
import { TakeIn } from "./take-in";

const listKey = ["builds"];

/** What can be taken back for a while. */
interface Deleted {
  id: string;
  title: string;
}

export function BuildsPage() {
  const queries = useQueryClient();
  const library = useLibrary();
  const [search, setSearch] = useState("");
  const [bin, setBin] = useState(false);
  const list = useInfiniteQuery({
    queryKey: [...listKey, search, bin],
    queryFn: ({ pageParam }) =>
      answer(api.GET("/api/builds", { params: { query: { search, bin, skip: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (page, pages) =>
      page.more ? pages.reduce((n, p) => n + p.builds.length, 0) : undefined,
    placeholderData: keepPreviousData,
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
  const builds = list.data?.pages.flatMap((page) => page.builds);
  const [deleted, setDeleted] = useState<Deleted>();
  const [failed, setFailed] = useState<string[]>([]);
  useEffect(() => {
    document.title = "Builds – Cablaggio";
  }, []);

  const act = async (work: () => Promise<unknown>) => {
    setFailed([]);
    try {
      await work();
    } catch (error) {
      setFailed(
        error instanceof ProblemError
          ? inLines(error.problem)
          : ["The server does not answer; try again in a moment."],
      );
    }
    await queries.invalidateQueries({ queryKey: listKey });
  };
  const away = list.failureReason instanceof AwayError;

  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <Head here="Builds">
        <p className="text-faint">The wiring book of your bench</p>
      </Head>
      {library.data && <NewBuild library={library.data} act={act} />}
      <div aria-live="polite" className="space-y-2">
        {away && <p className="border-l-4 border-care pl-3">The server does not answer. Trying again…</p>}
        <NotTaken wrong={failed} />
        {deleted && (
          <p className="flex items-center gap-3 border-l-4 border-copper pl-3">
            <span>{deleted.title} is deleted.</span>
            <Button
              onClick={() =>
                act(async () => {
                  await answer(
                    api.POST("/api/builds/{id}/restore", { params: { path: { id: deleted.id } } }),
                  );
                  setDeleted(undefined);
                })
              }
            >
              Put it back
            </Button>
          </p>
        )}
      </div>
      <div className="mt-6 mb-2 flex flex-wrap items-end gap-x-4 gap-y-1">
        <h2 className="grow text-large font-semibold">{bin ? "Deleted builds" : "Builds"}</h2>
        <SearchField value={search} onChange={setSearch} />
        <Button look="quiet" aria-pressed={bin} onClick={() => setBin(!bin)}>
          {bin ? "Back to the builds" : "Deleted ones"}
        </Button>
      </div>
      {builds?.length === 0 && search !== "" && (
        <p className="wrap-anywhere max-w-prose text-faint">Nothing here has “{search}” in its name.</p>
      )}
      {builds?.length === 0 && search === "" && bin && (
        <p className="max-w-prose text-faint">Nothing was deleted.</p>
      )}
      {builds?.length === 0 && search === "" && !bin && (
        <p className="max-w-prose text-faint">
          None yet. A build is one thing you wire: a board, what feeds it, and the parts that hang on it. Give
          it a name above, choose the board that lies on your bench, and begin.
        </p>
      )}
      <ul className="divide-y divide-rule border-y border-rule" aria-label="Builds">
        {builds?.map((build) => {
          const board = library.data?.boards.find((b) => b.id === build.board)?.name ?? build.board;
          return bin ? (
            <DeletedRow
              key={build.id}
              build={build}
              board={board}
              act={act}
              onBack={() => setDeleted(undefined)}
            />
          ) : (
            <BuildRow key={build.id} build={build} board={board} act={act} onDeleted={setDeleted} />
          );
        })}
      </ul>
      {list.hasNextPage && (
        <p className="mt-2">
          <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
            {list.isFetchingNextPage ? "Looking them up…" : "Show more"}
          </Button>
        </p>
      )}
      {library.data && <Starts library={library.data} act={act} />}
    </main>
  );
}

function DeletedRow({
  build,
  board,
  act,
  onBack,
}: {
  build: BuildSummary;
  board: string;
  act: Act;
  onBack: () => void;
}) {
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
      <span className="wrap-anywhere min-w-48 grow basis-0 text-large">{build.title}</span>
      <span className="w-44 text-faint">{board}</span>
      <time className="w-48 text-faint" dateTime={build.changed}>
        {new Date(build.changed).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}
      </time>
      <Button
        aria-label={`Put ${build.title} back`}
        onClick={() =>
          act(async () => {
            await answer(api.POST("/api/builds/{id}/restore", { params: { path: { id: build.id } } }));
            onBack();
          })
        }
      >
        Put it back
      </Button>
    </li>
  );
}

function NewBuild({ library, act }: { library: Library; act: Act }) {
  const navigate = useNavigate();
  const [title, setTitle] = useKept("new-build", "");
  const [board, setBoard] = useState(library.boards[0]?.id ?? "");
  // Until a build is made, trying again asks for the same one.
  const key = useRef<string>(crypto.randomUUID());
  const begin = (event: FormEvent) => {
    event.preventDefault();
    void act(async () => {
      const made = await answer(
        api.POST("/api/builds", {
          params: { header: { "Idempotency-Key": key.current } },
          body: { title: title.trim() || "Untitled build", board },
        }),
      );
      key.current = crypto.randomUUID();
      setTitle("");
      navigate(`/builds/${made.id}`);
    });
  };
  return (
    <form onSubmit={begin} className="my-5 flex flex-wrap items-end gap-3" aria-label="New build">
      <label className="flex grow flex-col gap-0.5">
        <span className="text-small text-faint">What will it be?</span>
        <input
          value={title}
          onChange={(event) => {
            key.current = crypto.randomUUID();
            setTitle(event.target.value);
          }}
          maxLength={120}
          placeholder="a night light for the pond"
          autoComplete="off"
          className="rounded-sheet border border-ink/40 bg-sheet px-3 text-large placeholder:text-faint"
        />
      </label>
      <div className="w-64">
        <Choice
          label="Board"
          value={board}
          onChange={(id) => {
            key.current = crypto.randomUUID();
            setBoard(id);
          }}
        >
          {library.boards.map((b) => (
            <option key={b.id} value={b.id}>
              {b.name}
            </option>
          ))}
        </Choice>
      </div>
      <Button look="main" type="submit">
        New build
      </Button>
      <TakeIn library={library} act={act} />
    </form>
  );
}

function BuildRow({
  build,
  board,
  act,
  onDeleted,
}: {
  build: BuildSummary;
  board: string;
  act: Act;
  onDeleted: (deleted: Deleted) => void;
}) {
  const [renaming, setRenaming] = useState(false);
  const path = { params: { path: { id: build.id } } };
  const rename = (title: string) =>
    act(async () => {
      setRenaming(false);
      if (!title || title === build.title) return;
      const now = await answer(api.GET("/api/builds/{id}", path));
      await answer(
        api.POST("/api/builds/{id}/edits", {
          params: { path: { id: build.id }, header: { "If-Match": `"${now.tag}"` } },
          body: { edits: [{ op: "title", name: title }] },
        }),
      );
    });
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
      {renaming ? (
        <form
          className="flex grow gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void rename(String(new FormData(event.currentTarget).get("title")).trim());
          }}
        >
          <input
            name="title"
            defaultValue={build.title}
            maxLength={120}
            aria-label={`New name of ${build.title}`}
            // biome-ignore lint/a11y/noAutofocus: the field replaces the name that was asked to be changed
            autoFocus
            onKeyDown={(event) => event.key === "Escape" && setRenaming(false)}
            className="grow rounded-sheet border border-ink/40 bg-sheet px-2 text-large"
          />
          <Button look="main" type="submit">
            Rename
          </Button>
        </form>
      ) : (
        <Link
          to={`/builds/${build.id}`}
          className="wrap-anywhere min-w-48 grow basis-0 text-large font-semibold underline decoration-rule decoration-2 underline-offset-4 hover:decoration-copper"
        >
          {build.title}
        </Link>
      )}
      <span className="w-44 text-faint">{board}</span>
      <time className="w-48 text-faint" dateTime={build.changed}>
        {new Date(build.changed).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}
      </time>
      <Found counts={build.counts} />
      <Menu label="More" spoken={`More for ${build.title}`}>
        <MenuItem onSelect={() => setRenaming(true)}>Rename</MenuItem>
        <MenuItem
          onSelect={() =>
            act(() =>
              answer(
                api.POST("/api/builds/{id}/duplicate", {
                  params: { path: { id: build.id }, header: { "Idempotency-Key": crypto.randomUUID() } },
                }),
              ),
            )
          }
        >
          Duplicate
        </MenuItem>
        <MenuItem onSelect={() => void download(`/api/builds/${build.id}/files/document`)}>
          Save as file
        </MenuItem>
        <MenuItem onSelect={() => void download(`/api/builds/${build.id}/archive`)}>
          Save with its log (ZIP)
        </MenuItem>
        <MenuItem
          onSelect={() =>
            act(async () => {
              await answer(api.DELETE("/api/builds/{id}", path));
              onDeleted({ id: build.id, title: build.title });
            })
          }
        >
          Delete
        </MenuItem>
      </Menu>
    </li>
  );
}
