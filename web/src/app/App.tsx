import { say } from '@fiche/core/languages';
import { setOffice } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { createBrowserRouter, createRoutesFromElements, Navigate, Route, RouterProvider } from 'react-router-dom';
import { AccountPage, PasswordPage } from '../account/index.ts';
import { keepToken, send, useSession } from '../client/index.ts';
import { FormEditor } from '../editor/index.ts';
import { FillPage, FormsPage, HeldPage } from '../forms/index.ts';
import { HomePage, NewCabinetPage } from '../home/index.ts';
import { ImportPage } from '../imports/index.ts';
import { LedgerPage } from '../ledger/index.ts';
import { DuplicatesPage } from '../merging/index.ts';
import { OutboxPage } from '../messages/index.ts';
import { AnswersPage, PageSettings } from '../pages/index.ts';
import { pageCss, Waiting } from '../parts/index.ts';
import { PeoplePage, RolePage } from '../people/index.ts';
import { RecordPage } from '../records/index.ts';
import { OperationPage, SettingsPage } from '../settings/index.ts';
import { TablePage, TablesPage } from '../tables/index.ts';
import { Frame } from './Frame.tsx';
import { PageFailed } from './PageFailed.tsx';
import { SignIn } from './SignIn.tsx';
import { Welcome } from './Welcome.tsx';

const router = createBrowserRouter(
  createRoutesFromElements(
    <>
      <Route path="/" element={<FirstCabinet />} errorElement={<PageFailed />} />
      <Route path="/:cabinet" element={<Frame />} errorElement={<PageFailed />}>
        <Route errorElement={<PageFailed />}>
          <Route index element={<Navigate to="home" replace />} />
          <Route path="home" element={<HomePage />} />
          <Route path="forms" element={<FormsPage />} />
          <Route path="forms/:form" element={<FillPage />} />
          <Route path="forms/:form/edit" element={<FormEditor />} />
          <Route path="forms/:form/page" element={<PageSettings />} />
          <Route path="forms/:form/answers" element={<AnswersPage />} />
          <Route path="forms/:form/held" element={<HeldPage />} />
          <Route path="forms/:form/:record" element={<FillPage />} />
          <Route path="tables" element={<TablesPage />} />
          <Route path="tables/:table" element={<TablePage />} />
          <Route path="tables/:table/new" element={<RecordPage />} />
          <Route path="tables/:table/duplicates" element={<DuplicatesPage />} />
          <Route path="tables/:table/:record" element={<RecordPage />} />
          <Route path="cabinets/new" element={<NewCabinetPage />} />
          <Route path="imports/new" element={<ImportPage />} />
          <Route path="ledger" element={<LedgerPage />} />
          <Route path="people" element={<PeoplePage />} />
          <Route path="people/roles/:role" element={<RolePage />} />
          <Route path="account" element={<AccountPage />} />
          <Route path="outbox" element={<OutboxPage />} />
          <Route path="settings" element={<SettingsPage />} />
          <Route path="settings/operation" element={<OperationPage />} />
          <Route
            path="*"
            element={<p className={pageCss.empty}>{say('There is no such page. Choose a divider, or go back.')}</p>}
          />
        </Route>
      </Route>
    </>,
  ),
);

function FirstCabinet() {
  const { data } = useSession();
  const first = data?.cabinets.find((one) => !one.archived) ?? data?.cabinets[0];
  return <Navigate to={`/${first?.id}/home`} replace />;
}

/** For an account that is in no cabinet: what to do, and the way out. */
function NoCabinet({ login }: { login: string }) {
  const signOut = async (): Promise<void> => {
    await send('DELETE', '/api/session');
    window.location.assign('/');
  };
  return (
    <main className={pageCss.empty}>
      <p>{say('Your account, {login}, is in no cabinet. Ask an administrator to add it to one.', { login })}</p>
      <Button onClick={() => void signOut()}>{say('Sign out')}</Button>
    </main>
  );
}

export function App() {
  const session = useSession();
  if (session.isPending) return <Waiting what={say('Opening…')} />;
  if (session.isError)
    return (
      <p className={pageCss.empty} role="alert">
        {session.error.message}
      </p>
    );
  keepToken(session.data.csrf);
  setOffice(session.data.office);
  if (window.location.pathname === '/password') return <PasswordPage />;
  if (session.data.login === null && window.location.pathname === '/welcome') return <Welcome />;
  if (session.data.login === null) return <SignIn samples={session.data.samples} />;
  if (session.data.cabinets.length === 0) return <NoCabinet login={session.data.login} />;
  // A page goes as soon as another is asked for: what is typed right after a key that leads elsewhere never lands in the page before.
  return <RouterProvider router={router} useTransitions={false} />;
}
