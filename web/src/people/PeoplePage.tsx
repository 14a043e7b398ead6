import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useOffice } from '../client/index.ts';
import { pageCss, textCss } from '../parts/index.ts';

/** Who may use this cabinet, and as what. */
export function PeoplePage() {
  const { cabinet } = useOffice();
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>People</h1>
      </div>
      <div className={pageCss.listCard}>
        <Table className={pageCss.list}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">Account</TableCell>
              <TableCell scope="col">Name</TableCell>
              <TableCell scope="col">Role</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {cabinet.accounts.map((one) => (
              <TableRow key={one.login}>
                <TableCell className={textCss.mono}>{one.login}</TableCell>
                <TableCell>{one.displayName}</TableCell>
                <TableCell>{one.role}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </div>
    </div>
  );
}
