import { useOffice } from '../client/index.ts';

/** Who may use this cabinet, and as what. */
export function PeoplePage() {
  const { cabinet } = useOffice();
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>People</h1>
      </div>
      <div className="list-card">
        <table className="list">
          <thead>
            <tr>
              <th scope="col">Account</th>
              <th scope="col">Name</th>
              <th scope="col">Role</th>
            </tr>
          </thead>
          <tbody>
            {cabinet.accounts.map((one) => (
              <tr key={one.login}>
                <td className="mono">{one.login}</td>
                <td>{one.displayName}</td>
                <td>{one.role}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
