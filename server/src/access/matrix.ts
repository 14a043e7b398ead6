/** Who calls, in the order of the columns below. */
export const CALLERS = [
  'nobody',
  'builder',
  'clerk',
  'auditor',
  /** A role that sees the stays that it has added. */
  'own',
  /** A role that sees the stays of one harbour. */
  'ranged',
  /** A role that does not see some fields, and does not write others. */
  'blind',
  /** The builder of another cabinet. */
  'stranger',
  /** A program with the role of a clerk, limited to the table of stays. */
  'token',
] as const;

/**
 * What each caller gets from each route, written by hand: `+` let through, `-` sign in first (401), `x` not allowed (403),
 * `0` not there (404). A route may stand several times, with a target behind `@`: `near` and `far` are stays, the second
 * outside of what the roles `own` and `ranged` see; `vessels` is another table, for routes that name one; without a
 * target, a route is called for the stays and with a body that fits no route. A new route has to be added here.
 */
export const MATRIX = `
GET    /api/health                                                  +++++++++
GET    /api/ready                                                   +++++++++
GET    /api/openapi.json                                            +++++++++
GET    /api/schemas/cabinet-file.json                               +++++++++
POST   /api/session                                                 +++++++++
GET    /api/session                                                 +++++++++
GET    /api/languages                                               +++++++++
PUT    /api/session/seen-as                                         -+++++++x
DELETE /api/session/seen-as                                         -+++++++x
POST   /api/first-administrator                                     +++++++++
POST   /api/password-link                                           +++++++++
POST   /api/password                                                +++++++++
GET    /api/account                                                 -+++++++x
PATCH  /api/account                                                 -+++++++x
PUT    /api/account/password                                        -+++++++x
POST   /api/account/second-factor                                   -+++++++x
PUT    /api/account/second-factor                                   -+++++++x
DELETE /api/account/second-factor                                   -+++++++x
DELETE /api/account/sessions                                        -+++++++x
GET    /api/account/notices                                         -+++++++x
POST   /api/account/notices/seen                                    -+++++++x
GET    /api/account/watches                                         -+++++++x
DELETE /api/account/sessions/{session}                              -0000000x
POST   /api/cabinets                                                -+++++++x
GET    /api/cabinets/{cabinet}                                      -++++++0x
PATCH  /api/cabinets/{cabinet}                                      -+xxxxx0x
GET    /api/cabinets/{cabinet}/operation                            -+xxxxx0x
PUT    /api/cabinets/{cabinet}/office                               -+xxxxx0x
GET    /api/cabinets/{cabinet}/find                                 -++++++0x
GET    /api/cabinets/{cabinet}/as-of                                -++++++0x
GET    /api/cabinets/{cabinet}/overview                             -++++++0x
GET    /api/cabinets/{cabinet}/home                                 -++++++0x
PUT    /api/cabinets/{cabinet}/home                                 -++++++0x
GET    /api/cabinets/{cabinet}/home/changes                         -++++++0x
GET    /api/cabinets/{cabinet}/ledger                               -+x+xxx0x
POST   /api/cabinets/{cabinet}/verifications                        -+x+xxx0x
GET    /api/cabinets/{cabinet}/ledger/lines                         -+x+xxx0x
GET    /api/cabinets/{cabinet}/ledger/overview                      -+x+xxx0x
GET    /api/cabinets/{cabinet}/ledger/receipt-mail                  -+x+xxx0x
PUT    /api/cabinets/{cabinet}/ledger/receipt-mail                  -+x+xxx0x
GET    /api/cabinets/{cabinet}/ledger/receipt                       -+x+xxx0x
GET    /api/cabinets/{cabinet}/ledger/export                        -+x+xxx0x
GET    /api/cabinets/{cabinet}/tasks                                -++++++0x
GET    /api/cabinets/{cabinet}/tasks/{task}                         -0000000x
POST   /api/cabinets/{cabinet}/tasks/{task}/cancel                  -0000000x
GET    /api/cabinets/{cabinet}/uses                                 -+xxxxx0x
GET    /api/cabinets/{cabinet}/export                               -+xxxxx0x
POST   /api/cabinets/{cabinet}/cabinet-file                         -+xxxxx0x
POST   /api/cabinets/{cabinet}/forms                                -+xxxxx0x
POST   /api/cabinets/{cabinet}/tables                               -+xxxxx0x
POST   /api/cabinets/{cabinet}/lists                                -+xxxxx0x
GET    /api/cabinets/{cabinet}/accounts                             -+xxxxx0x
POST   /api/cabinets/{cabinet}/accounts                             -+xxxxx0x
PUT    /api/cabinets/{cabinet}/accounts/{login}                     -+xxxxx0x
PATCH  /api/cabinets/{cabinet}/accounts/{login}                     -+xxxxx0x
DELETE /api/cabinets/{cabinet}/accounts/{login}                     -0xxxxx0x
POST   /api/cabinets/{cabinet}/accounts/{login}/link                -0xxxxx0x
DELETE /api/cabinets/{cabinet}/accounts/{login}/second-factor       -0xxxxx0x
GET    /api/cabinets/{cabinet}/roles                                -+xxxxx0x
POST   /api/cabinets/{cabinet}/roles                                -+xxxxx0x
PUT    /api/cabinets/{cabinet}/roles/{role}                         -+xxxxx0x
POST   /api/cabinets/{cabinet}/roles/{role}/replay                  -+xxxxx0x
DELETE /api/cabinets/{cabinet}/roles/{role}                         -0xxxxx0x
GET    /api/cabinets/{cabinet}/tokens                               -+xxxxx0x
POST   /api/cabinets/{cabinet}/tokens                               -+xxxxx0x
DELETE /api/cabinets/{cabinet}/tokens/{token}                       -0xxxxx0x
GET    /api/cabinets/{cabinet}/messages                             -+xxxxx0x
POST   /api/cabinets/{cabinet}/messages/{message}/retry             -0xxxxx0x
GET    /api/cabinets/{cabinet}/imports                              -++xx++0x
POST   /api/cabinets/{cabinet}/imports                              -++xx++0x
POST   /api/cabinets/{cabinet}/imports/links                        -++xx++0x
GET    /api/cabinets/{cabinet}/imports/{import}                     -00xx000x
POST   /api/cabinets/{cabinet}/imports/{import}/check               -++xx++0x
POST   /api/cabinets/{cabinet}/imports/{import}/run                 -++xx++0x
GET    /api/cabinets/{cabinet}/imports/{import}/bad-rows            -00xx000x
POST   /api/cabinets/{cabinet}/imports/{import}/corrections         -++xx++0x
GET    /api/cabinets/{cabinet}/imports/{import}/bad-rows/export     -00xx000x
GET    /api/forms/{form}                                            -++++++0+
PATCH  /api/forms/{form}                                            -+xxxxx0x
GET    /api/forms/{form}/draft                                      -+xxxxx0x
PUT    /api/forms/{form}/draft                                      -+xxxxx0x
POST   /api/forms/{form}/publish                                    -+xxxxx0x
GET    /api/forms/{form}/versions                                   -+xxxxx0x
POST   /api/forms/{form}/duplicate                                  -+xxxxx0x
POST   /api/forms/{form}/trial                                      -+xxxxx0x
GET    /api/forms/{form}/records                                    -++++++0+
GET    /api/forms/{form}/answers                                    -++x+++0+
GET    /api/forms/{form}/answers.csv                                -++++++0+
GET    /api/forms/{form}/personal-links                             -+xxxxx0x
POST   /api/forms/{form}/personal-links                             -+xxxxx0x
POST   /api/forms/{form}/personal-links/mails                       -+xxxxx0x
DELETE /api/forms/{form}/personal-links/{id}                        -+xxxxx0x
GET    /api/forms/{form}/held                                       -++x+++0+
POST   /api/forms/{form}/held/{id}                                  -++x+++0+
POST   /api/forms/{form}/choices                                    -++++++0+
POST   /api/forms/{form}/lookups                                    -++++++0+
POST   /api/forms/{form}/checks                                     -++++++0+
POST   /api/forms/{form}/why                                        -++++++0+
POST   /api/forms/{form}/files                                      -++++++0+
POST   /api/forms/{form}/entries                                    -++++++0+
POST   /api/forms/{form}/entries @near                              -++x+++0+
POST   /api/forms/{form}/entries @far                               -++x00+0+
POST   /api/forms/{form}/draft/choices                              -+xxxxx0x
POST   /api/forms/{form}/draft/lookups                              -+xxxxx0x
POST   /api/forms/{form}/draft/checks                               -+xxxxx0x
POST   /api/forms/{form}/draft/why                                  -+xxxxx0x
POST   /api/forms/{form}/draft/files                                -+xxxxx0x
POST   /api/forms/{form}/draft/replay                               -+xxxxx0x
POST   /api/forms/{form}/draft/entries                              -+xxxxx0x
GET    /api/public/{slug}                                           +++++++++
POST   /api/public/{slug}/choices                                   +++++++++
POST   /api/public/{slug}/lookups                                   +++++++++
POST   /api/public/{slug}/checks                                    +++++++++
POST   /api/public/{slug}/files                                     +++++++++
POST   /api/public/{slug}/entries                                   +++++++++
PATCH  /api/tables/{table}                                          -+xxxxx0x
POST   /api/tables/{table}/use                                      -+xxxxx0x
POST   /api/tables/{table}/lines                                    -+xxxxx0x
POST   /api/tables/{table}/combinations                             -+xxxxx0x
POST   /api/tables/{table}/constraints                              -+xxxxx0x
DELETE /api/tables/{table}/constraints/{constraint}                 -0xxxxx0x
POST   /api/tables/{table}/fields                                   -+xxxxx0x
POST   /api/tables/{table}/fields/copy                              -+xxxxx0x
PATCH  /api/tables/{table}/fields/{field}                           -+xxxxx0x
POST   /api/tables/{table}/fields/{field}/conversion                -+xxxxx0x
POST   /api/tables/{table}/fields/{field}/retire                    -+xxxxx0x
POST   /api/tables/{table}/fields/{field}/return                    -0xxxxx0x
POST   /api/tables/{table}/fields/{field}/type                      -+xxxxx0x
GET    /api/tables/{table}/levels                                   -+xxxxx0x
POST   /api/tables/{table}/levels                                   -+xxxxx0x
POST   /api/tables/{table}/trial                                    -+xxxxx0x
POST   /api/cabinets/{cabinet}/saves/{transaction}/put-back         -++++++0x
POST   /api/tables/{table}/rule-trial                               -+xxxxx0x
POST   /api/tables/{table}/ripple-trial                             -+xxxxx0x
GET    /api/tables/{table}/ripples/{ripple}/missed                  -0xxxxx0x
GET    /api/tables/{table}/records                                  -++++++0+
GET    /api/tables/{table}/records @vessels                         -++++++0x
GET    /api/tables/{table}/views                                    -++++++0+
GET    /api/tables/{table}/events                                   -++++++0+
POST   /api/tables/{table}/views                                    -++++++0+
PUT    /api/tables/{table}/views/{view}                             -++++++0+
DELETE /api/tables/{table}/views/{view}                             -00000000
PUT    /api/forms/{form}/watch                                      -++x+++0x
DELETE /api/forms/{form}/watch                                      -++x+++0x
PUT    /api/tables/{table}/views/{view}/watch                       -0000000x
DELETE /api/tables/{table}/views/{view}/watch                       -++++++0x
GET    /api/tables/{table}/views/{view}/records                     -00000000
GET    /api/tables/{table}/views/{view}/export                      -00000000
GET    /api/tables/{table}/views/{view}/figures                     -00000000
GET    /api/tables/{table}/views/{view}/periods                     -++++++0+
POST   /api/tables/{table}/figures                                  -++++++0+
POST   /api/tables/{table}/periods                                  -++++++0+
POST   /api/tables/{table}/free-lanes                               -++++++0+
POST   /api/tables/{table}/changes                                  -++++++0+
GET    /api/tables/{table}/changes/{change}                         -00000000
POST   /api/tables/{table}/changes/{change}/run                     -++++++0+
POST   /api/tables/{table}/changes/{change}/put-back                -++++++0+
POST   /api/tables/{table}/rows                                     -++++++0+
GET    /api/tables/{table}/rows/export                              -++++++0+
GET    /api/tables/{table}/rows/export @vessels                     -+++x++0x
GET    /api/tables/{table}/at/{position}                            -++++++0+
GET    /api/tables/{table}/records/{id}/print @near                 -++++++0+
GET    /api/tables/{table}/records/{id}/print @far                  -+++00+0+
GET    /api/tables/{table}/label-layouts                            -++++++0+
POST   /api/tables/{table}/label-layouts                            -+xxxxx0x
PUT    /api/tables/{table}/label-layouts/{layout}                   -+xxxxx0x
DELETE /api/tables/{table}/label-layouts/{layout}                   -0xxxxx0x
POST   /api/tables/{table}/label-preview                            -++++++0+
GET    /api/calendars/{token}                                       000000000
GET    /api/tables/{table}/calendars                                -++++++0+
POST   /api/tables/{table}/calendars                                -++++++0+
DELETE /api/tables/{table}/calendars/{calendar}                     -00000000
POST   /api/tables/{table}/duplicates                               -++++++0+
POST   /api/tables/{table}/compare                                  -++++++0+
POST   /api/tables/{table}/saves/{transaction}/put-back             -++++++0+
POST   /api/tables/{table}/merges                                   -++x+++0+
POST   /api/tables/{table}/exports                                  -++++++0+
POST   /api/tables/{table}/exports @vessels                         -+++x++0x
GET    /api/tables/{table}/exports/{export}                         -00000000
GET    /api/tables/{table}/exports/{export}/file                    -00000000
DELETE /api/tables/{table}/exports/{export}                         -00000000
GET    /api/tables/{table}/export                                   -++++++0+
GET    /api/tables/{table}/export @vessels                          -+++x++0x
GET    /api/tables/{table}/files/{file}                             -00000000
GET    /api/tables/{table}/files/{file}/thumbnail                   -00000000
GET    /api/tables/{table}/records/{id} @near                       -++++++0+
GET    /api/tables/{table}/records/{id} @far                        -+++00+0+
PUT    /api/tables/{table}/records/{id}/watch @near                 -++++++0x
PUT    /api/tables/{table}/records/{id}/watch @far                  -+++00+0x
DELETE /api/tables/{table}/records/{id}/watch                       -++++++0x
GET    /api/tables/{table}/records/{id}/as-of @near                 -++++++0+
GET    /api/tables/{table}/records/{id}/as-of @far                  -+++00+0+
GET    /api/tables/{table}/records/{id}/history @near               -++++++0+
GET    /api/tables/{table}/records/{id}/history @far                -+++00+0+
GET    /api/tables/{table}/records/{id}/everything @near            -++++++0+
GET    /api/tables/{table}/records/{id}/everything @far             -+++00+0+
GET    /api/tables/{table}/records/{id}/linking @near               -++++++0+
GET    /api/tables/{table}/records/{id}/linking @far                -+++00+0+
GET    /api/tables/{table}/records/{id}/place @near                 -++++++0+
GET    /api/tables/{table}/records/{id}/place @far                  -+++00+0+
GET    /api/tables/{table}/records/{id}/events @far                 -+++00+0+
POST   /api/tables/{table}/records/{id}/archive @near               -++x+++0+
POST   /api/tables/{table}/records/{id}/archive @far                -++x00+0+
POST   /api/tables/{table}/records/{id}/restore @near               -++x+++0+
POST   /api/tables/{table}/records/{id}/restore @far                -++x00+0+
DELETE /api/tables/{table}/records/{id} @near                       -+xxxxx0x
POST   /api/tables/{table}/choices                                  -++++++0+
POST   /api/tables/{table}/lookups                                  -++++++0+
POST   /api/tables/{table}/checks                                   -++++++0+
POST   /api/tables/{table}/why                                      -++++++0+
POST   /api/tables/{table}/files                                    -++++++0+
POST   /api/tables/{table}/entries                                  -++++++0+
POST   /api/tables/{table}/entries @near                            -++x+++0+
POST   /api/tables/{table}/entries @far                             -++x00+0+
POST   /api/tables/{table}/entries @vessels                         -++xxx+0x
`;

/** Routes that are tested elsewhere, and why not here. */
export const NOT_HERE: Readonly<Record<string, string>> = {
  'DELETE /api/session': 'signing out ends the sessions that the others need: accounts.test.ts',
  'GET /api/events': 'a stream that never ends: people.test.ts',
};
