package leanladder.server.draft;

import java.time.Instant;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import leanladder.resolve.Question;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.live.Moment;
import leanladder.server.live.Proposal;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.tell.Wording;

/**
 * What is asked about: the estate as it stands, stood, or would stand after a draft, and the question put to it.
 *
 * @param draft the draft, where the estate after one is asked about; it is read once, so that all that is told of it is of one
 *     version
 */
public record Inquiry(Snapshot snapshot, Question question, Optional<Proposal> draft) {
    /** Reads the parameters {@code at}, {@code workspace} and {@code draft}. */
    public static final class Reader {
        private final Timeline timeline;
        private final DraftDesk drafts;

        /** Reads inquiries about a timeline and the drafts on it. */
        public Reader(Timeline timeline, DraftDesk drafts) {
            this.timeline = timeline;
            this.drafts = drafts;
        }

        /** What the parameters ask about; without {@code at}, the present estate now. */
        public Inquiry of(Query query) {
            Snapshot present = timeline.present();
            Instant now = timeline.now();
            Optional<Instant> at =
                    query.instant("at", present.estate().organisation().zone());
            Optional<Proposal> draft = query.one("draft").map(this::proposal);
            if (draft.isPresent() && at.filter(t -> t.isBefore(now)).isPresent())
                throw Problem.wrongInput("After a draft there is no past; leave \"at\" out, or name a later instant.");
            Snapshot snapshot = draft.map(Proposal::after)
                    .orElseGet(() -> at.map(timeline::standingAt).orElse(present));
            Optional<String> workspace = query.one("workspace");
            workspace.filter(w -> snapshot.estate().workspace(w).isEmpty()).ifPresent(w -> {
                throw Problem.unknown("There is no workspace \"" + w + "\".");
            });
            return new Inquiry(snapshot, new Question(at.orElse(now), workspace), draft);
        }

        private Proposal proposal(String draft) {
            if (!draft.matches("\\d{1,18}")) throw Problem.unknown("There is no draft \"" + draft + "\".");
            return drafts.proposal(drafts.draft(Long.parseLong(draft)));
        }
    }

    /** The answers to the question. */
    public Moment moment() {
        return snapshot.moment(question);
    }

    public Estate estate() {
        return snapshot.estate();
    }

    public Directory directory() {
        return snapshot.directory();
    }

    /** Names, values and dates as they read at the instant asked about. */
    public Wording wording() {
        return new Wording(snapshot.estate(), question.at());
    }

    /** The setting of this key; a problem when there is none. */
    public Setting setting(String key) {
        return estate().catalogue()
                .setting(key)
                .orElseThrow(() -> Problem.unknown("The catalogue has no setting \"" + key + "\"."));
    }

    /** The active account of this id; a problem that says why there is none. */
    public Account account(String id) {
        Account account =
                estate().account(id).orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
        if (!account.active())
            throw Problem.unknown("The account \"" + id + "\" is inactive and has no outcomes.")
                    .with("inactive", true);
        return account;
    }

    /** What an app is called. */
    public Optional<String> app(Setting setting) {
        return setting.app().map(estate().catalogue().apps()::get);
    }
}
