package leanladder.server.query;

import java.time.Instant;
import java.util.Optional;
import java.util.function.LongFunction;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.reach.Directory;
import leanladder.resolve.EvaluationContext;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.state.InstantResolution;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.text.EstateFormatter;

/**
 * What is asked about: the estate as it stands, stood, or would stand after a draft, and the question put to it.
 *
 * @param draft the draft, where the estate after one is asked about; it is read once, so that all that is told of it is of one
 *     version
 */
public record QueryContext(Snapshot snapshot, EvaluationContext question, Optional<RebasedDraft> draft) {
    /** Reads the parameters {@code at}, {@code workspace} and {@code draft}. */
    public static final class Reader {
        private final Timeline timeline;
        private final LongFunction<RebasedDraft> drafts;

        /** @param drafts finds a draft by its id, on the present estate; a problem when there is none */
        public Reader(Timeline timeline, LongFunction<RebasedDraft> drafts) {
            this.timeline = timeline;
            this.drafts = drafts;
        }

        /** What the parameters ask about; without {@code at}, the present estate now. */
        public QueryContext read(QueryParameters queryParameters) {
            Snapshot present = timeline.present();
            Instant now = timeline.now();
            Optional<Instant> at = queryParameters.instant(
                    "at", present.estate().organisation().zone());
            Optional<RebasedDraft> draft = queryParameters.one("draft").map(this::rebasedDraft);
            if (draft.isPresent() && at.filter(t -> t.isBefore(now)).isPresent())
                throw ProblemException.wrongInput(
                        "After a draft there is no past; leave \"at\" out, or name a later instant.");
            Snapshot snapshot = draft.map(RebasedDraft::snapshot)
                    .orElseGet(() -> at.map(timeline::snapshotAt).orElse(present));
            Optional<String> workspace = queryParameters.one("workspace");
            workspace.filter(w -> snapshot.estate().workspace(w).isEmpty()).ifPresent(w -> {
                throw ProblemException.unknown("There is no workspace \"" + w + "\".");
            });
            return new QueryContext(snapshot, new EvaluationContext(at.orElse(now), workspace), draft);
        }

        private RebasedDraft rebasedDraft(String draft) {
            if (!draft.matches("\\d{1,18}")) throw ProblemException.unknown("There is no draft \"" + draft + "\".");
            return drafts.apply(Long.parseLong(draft));
        }
    }

    /** The answers to the question. */
    public InstantResolution instantResolution() {
        return snapshot.resolutionAt(question);
    }

    public Estate estate() {
        return snapshot.estate();
    }

    public Directory directory() {
        return snapshot.directory();
    }

    /** Names, values and dates as they read at the instant asked about. */
    public EstateFormatter estateFormatter() {
        return new EstateFormatter(snapshot.estate(), question.at());
    }

    /** The setting of this key; a problem when there is none. */
    public Setting setting(String key) {
        return estate().catalogue()
                .setting(key)
                .orElseThrow(() -> ProblemException.unknown("The catalogue has no setting \"" + key + "\"."));
    }

    /** The active account of this id; a problem that says why there is none. */
    public Account account(String id) {
        Account account =
                estate().account(id).orElseThrow(() -> ProblemException.unknown("There is no account \"" + id + "\"."));
        if (!account.active())
            throw ProblemException.unknown("The account \"" + id + "\" is inactive and has no outcomes.")
                    .with("inactive", true);
        return account;
    }

    /** What an app is called. */
    public Optional<String> app(Setting setting) {
        return setting.app().map(estate().catalogue().apps()::get);
    }
}
