import { NavLink, Outlet } from "react-router";
import { useSheet } from "../session/context";

const entrance = ({ isActive }: { isActive: boolean }) =>
  `px-4 py-1.5 hover:bg-wash ${isActive ? "border-copper border-b-4 bg-sheet font-semibold" : "border-transparent border-b-4"}`;

/** The entrances of the Test section: one measures, it does not work, or the board is asked. */
export function Test() {
  const { view } = useSheet();
  return (
    <>
      <nav aria-label="How to test" className="flex border-rule border-b">
        <NavLink to={`/builds/${view.id}/meter`} className={entrance}>
          Measure it
        </NavLink>
        <NavLink to={`/builds/${view.id}/diagnose`} className={entrance}>
          It does not work
        </NavLink>
        <NavLink to={`/builds/${view.id}/board`} className={entrance}>
          Ask the board
        </NavLink>
      </nav>
      <Outlet />
    </>
  );
}
