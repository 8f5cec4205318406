import { RIGHTS, ROLES } from "../../../core/access/access.ts";
import setup from "../setup/Setup.module.css";

/** What each role may do: for everybody to read. */
export function RolesTable() {
  const roles = Object.entries(ROLES);
  return (
    <div className={setup.scroll}>
      <table className={setup.table}>
        <thead>
          <tr>
            <th>Right</th>
            {roles.map(([role]) => (
              <th key={role}>{role}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Object.entries(RIGHTS).map(([key, said]) => (
            <tr key={key}>
              <td>{said}</td>
              {roles.map(([role, rights]) => (
                <td key={role}>
                  {(rights as readonly string[]).includes(key) ? (
                    "◆ yes"
                  ) : (
                    <span className={setup.quiet}>◇ no</span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
