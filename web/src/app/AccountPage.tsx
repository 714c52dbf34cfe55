import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";

import { answer } from "../api/client";
import { mePartialUpdate, mePasswordCreate, meSessionsDestroy, signOutCreate, teachersCreate, teachersLinkCreate, teachersList, teachersSessionsDestroy } from "../api/generated";
import { useChange, useMe } from "../api/hooks";
import { Button } from "../ui/Button";
import { Trouble } from "../ui/Trouble";

const FIELD = "mt-0.5 block w-72 rounded border border-rule bg-paper px-2 py-1";

/** The teacher's own account; for those who may invite, the colleagues too. */
export function AccountPage() {
  const me = useMe();
  const gone = () => location.assign("/sign-in");
  const leave = useMutation({ mutationFn: () => answer<void>(signOutCreate()), onSuccess: gone });
  const end = useMutation({ mutationFn: () => answer<void>(meSessionsDestroy()), onSuccess: gone });
  if (!me.data) return null;
  return (
    <div className="mx-auto max-w-[760px] space-y-6 px-6 py-5">
      <h1 className="text-2xl font-bold">{me.data.name}</h1>
      <section className="flex flex-wrap gap-2" aria-label="Sessions">
        <Button strong onClick={() => leave.mutate()}>
          Sign out
        </Button>
        <Button onClick={() => end.mutate()} title="In this browser and in all others">
          End all my sessions
        </Button>
      </section>
      <Trouble error={leave.error ?? end.error} />
      <Name name={me.data.name} />
      <Password asksOld={me.data.asks_old} />
      {me.data.may_invite && <Colleagues />}
    </div>
  );
}

/** The name that colleagues see, and that signs in. */
function Name({ name }: { name: string }) {
  const [written, setWritten] = useState(name);
  const change = useChange(() => answer(mePartialUpdate({ body: { name: written } })), "me");
  const send = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(undefined);
  };
  return (
    <form className="space-y-2 rounded border border-rule bg-sheet px-4 py-3" onSubmit={send} aria-label="Name">
      <h2 className="text-lg font-bold">Name</h2>
      <p className="text-[14px] text-soft">Colleagues see this name. You sign in with this name and your password.</p>
      <label className="block">
        Your name
        <input className={FIELD} autoComplete="username" value={written} onChange={(event) => setWritten(event.target.value)} />
      </label>
      <Trouble error={change.error} />
      {change.isSuccess && written.trim() === name && <p role="status">Your name is changed.</p>}
      <Button type="submit" disabled={!written.trim() || written === name || change.isPending}>
        Change name
      </Button>
    </form>
  );
}

function Password({ asksOld }: { asksOld: boolean }) {
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const change = useChange(() => answer<void>(mePasswordCreate({ body: { old, new: password } })), "me");
  const send = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(undefined, {
      onSuccess: () => {
        setOld("");
        setPassword("");
      },
    });
  };
  return (
    <form className="space-y-2 rounded border border-rule bg-sheet px-4 py-3" onSubmit={send} aria-label="Password">
      <h2 className="text-lg font-bold">Password</h2>
      <p className="text-[14px] text-soft">At least 10 characters that nobody guesses. With one you sign in by name; all other sessions end when it changes.</p>
      {asksOld && (
        <label className="block">
          The one now
          <input className={FIELD} type="password" autoComplete="current-password" value={old} onChange={(event) => setOld(event.target.value)} />
        </label>
      )}
      <label className="block">
        The new one
        <input className={FIELD} type="password" autoComplete="new-password" value={password} onChange={(event) => setPassword(event.target.value)} />
      </label>
      <Trouble error={change.error} />
      {change.isSuccess && !password && <p role="status">It is changed.</p>}
      <Button type="submit" disabled={!password || change.isPending}>
        Set the password
      </Button>
    </form>
  );
}

/** All teachers, links for new ones, and for those who cannot sign in. */
function Colleagues() {
  const teachers = useQuery({ queryKey: ["teachers"], queryFn: ({ signal }) => answer(teachersList({ signal })) });
  const [link, setLink] = useState<{ why: string; path: string } | null>(null);
  const invite = useChange(() => answer(teachersCreate({ body: {} })), "teachers");
  const again = useChange((id: number) => answer(teachersLinkCreate({ path: { id } })), "teachers");
  const end = useChange((id: number) => answer<void>(teachersSessionsDestroy({ path: { id } })), "teachers");
  return (
    <section className="space-y-2" aria-label="Teachers">
      <div className="flex items-center gap-3">
        <h2 className="flex-1 text-lg font-bold">Teachers</h2>
        <Button onClick={() => invite.mutate(undefined, { onSuccess: ({ path }) => setLink({ why: "Send this link to a colleague; it makes one account within 7 days:", path }) })}>Invite a colleague</Button>
      </div>
      <Trouble error={teachers.error ?? invite.error ?? again.error ?? end.error} />
      {link && (
        <p role="status" className="rounded border border-leaf bg-leaf-wash px-3 py-2">
          {link.why}
          <br />
          <code className="num text-[14px] break-all" data-link="">{location.origin + link.path}</code>
        </p>
      )}
      <ul className="divide-y divide-rule rounded border border-rule bg-sheet">
        {teachers.data?.map((teacher) => (
          <li key={teacher.id} className="flex flex-wrap items-center gap-2 px-4 py-2" data-teacher={teacher.name}>
            <span className="flex-1 font-bold">{teacher.name}</span>
            <span className="text-[13px] text-soft">
              {teacher.may_invite && "may invite, "}
              {teacher.has_password ? "has a password" : "signs in by links"}
            </span>
            <Button small onClick={() => again.mutate(teacher.id, { onSuccess: ({ path }) => setLink({ why: `This link signs ${teacher.name} in once, within 12 hours; a new password can be set then:`, path }) })}>
              New link
            </Button>
            <Button small onClick={() => end.mutate(teacher.id)}>
              End sessions
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
