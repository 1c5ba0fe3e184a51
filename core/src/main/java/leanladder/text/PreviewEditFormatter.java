package leanladder.text;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import leanladder.edit.preview.AskToJoin;
import leanladder.edit.preview.ConsentEdit;
import leanladder.edit.preview.GrantEarlyAccess;
import leanladder.edit.preview.InvitationEdit;
import leanladder.edit.preview.PauseRelease;
import leanladder.edit.preview.ReleaseEdit;
import leanladder.edit.preview.ResumeRelease;
import leanladder.edit.preview.SelfServiceEdit;
import leanladder.edit.preview.SetOpening;
import leanladder.edit.preview.StopAsking;
import leanladder.edit.preview.UpdateRings;
import leanladder.edit.preview.UpdateTracks;
import leanladder.edit.preview.WithdrawConsent;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.estate.Track;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/** Describes edits of releases and rings, invitations and consents. */
final class PreviewEditFormatter {
    private final EstateFormatter estateFormatter;

    PreviewEditFormatter(EstateFormatter estateFormatter) {
        this.estateFormatter = estateFormatter;
    }

    String format(ReleaseEdit edit, Overlay before) {
        String release = before.name(EntityType.RELEASE, edit.release());
        if (edit instanceof PauseRelease pause) return release + " is held: " + pause.reason();
        if (edit instanceof ResumeRelease) return release + " is no longer held";
        if (edit instanceof GrantEarlyAccess early) {
            String whom = before.name(Target.parse(early.to()).orElseThrow());
            return early.fromInstant()
                    .map(at -> release + " opens early to " + whom + " from " + estateFormatter.moment(at) + " on")
                    .orElseGet(() -> release + " no longer opens early to " + whom);
        }
        SetOpening opening = (SetOpening) edit;
        String ring = ring(opening.ring(), before);
        return opening.fromInstant()
                .map(at -> release + " opens to " + ring + " from " + estateFormatter.moment(at) + " on")
                .orElseGet(() -> release + " is withdrawn from " + ring);
    }

    String format(SelfServiceEdit edit, Overlay before) {
        String does;
        if (edit instanceof WithdrawConsent) does = "withdraws the consent to";
        else if (edit instanceof ConsentEdit) does = "consents to";
        else if (edit instanceof AskToJoin) does = "is asked to join";
        else if (edit instanceof StopAsking) does = "is no longer asked to join";
        else does = "declines to join";
        SelfServiceEdit.Preview subject = edit.preview().orElseThrow();
        String what = subject.to().equals("ring")
                ? ring(subject.what(), before)
                : before.name(EntityType.RELEASE, subject.what()) + " alone";
        return before.name(EntityType.ACCOUNT, edit.account()) + " " + does + " " + what;
    }

    private static String ring(String id, Overlay before) {
        return before.rings().stream()
                .filter(r -> r.id().equals(id))
                .map(Ring::name)
                .findFirst()
                .orElse(id);
    }

    String format(UpdateTracks edit, Overlay before) {
        Map<String, Track> was = new LinkedHashMap<>();
        before.tracks().forEach(track -> was.put(track.id(), track));
        List<String> told = new ArrayList<>();
        for (Track track : edit.read(before)) {
            Track old = was.remove(track.id());
            if (old == null)
                told.add(track.name() + " is a new preview track with the rings "
                        + track.rings().stream().map(Ring::name).collect(Collectors.joining(", ")));
            else if (!old.name().equals(track.name()))
                told.add("the preview track " + old.name() + " is called " + track.name());
            if (old != null && !old.rings().equals(track.rings())) told.add(rings(old.rings(), track.rings()));
        }
        was.values().forEach(track -> told.add("the preview track " + track.name() + " is removed"));
        return told.isEmpty() ? "the preview tracks stay as they are" : String.join("; ", told);
    }

    String format(UpdateRings edit, Overlay before) {
        return rings(before.rings(), edit.read(before));
    }

    private static String rings(List<Ring> before, List<Ring> rings) {
        Map<String, Ring> was = byId(before);
        Map<String, Ring> is = byId(rings);
        List<String> told = new ArrayList<>();
        for (int i = 0; i < rings.size(); i++) {
            Ring ring = rings.get(i);
            Ring old = was.get(ring.id());
            if (old == null)
                told.add(ring.name() + " is a new preview ring"
                        + (i + 1 < rings.size() ? ", inside " + rings.get(i + 1).name() : ", outside all others"));
            else if (!old.name().equals(ring.name()))
                told.add("the preview ring " + old.name() + " is called " + ring.name());
            if (old != null && old.asksConsent() != ring.asksConsent())
                told.add(ring.name() + (ring.asksConsent() ? " asks each one to consent" : " asks nobody any more"));
            if (old != null && !old.terms().equals(ring.terms()))
                told.add(
                        ring.terms().version() == 0
                                ? ring.name() + " no longer has terms"
                                : ring.name() + " has version " + ring.terms().version() + " of its terms");
        }
        was.values().stream()
                .filter(r -> !is.containsKey(r.id()))
                .forEach(r -> told.add("the preview ring " + r.name() + " is removed"));
        List<String> stayedBefore =
                was.keySet().stream().filter(is::containsKey).toList();
        List<String> stayed = is.keySet().stream().filter(was::containsKey).toList();
        if (!stayed.equals(stayedBefore))
            told.add("from the innermost outwards the preview rings are "
                    + rings.stream().map(Ring::name).collect(Collectors.joining(", ")));
        return told.isEmpty() ? "the preview rings stay as they are" : String.join("; ", told);
    }

    private static Map<String, Ring> byId(List<Ring> rings) {
        Map<String, Ring> byId = new LinkedHashMap<>();
        rings.forEach(r -> byId.put(r.id(), r));
        return byId;
    }

    PluralText count(Class<?> type) {
        if (ReleaseEdit.class.isAssignableFrom(type))
            return new PluralText("one release is edited", "# edits of releases");
        if (ConsentEdit.class.isAssignableFrom(type))
            return new PluralText("one consent is given or withdrawn", "# consents are given or withdrawn");
        if (InvitationEdit.class.isAssignableFrom(type))
            return new PluralText("one account is asked to join", "# accounts are asked to join, or have answered");
        if (type == UpdateTracks.class)
            return new PluralText(
                    "the preview tracks are arranged anew", "the preview tracks are arranged anew # times");
        return new PluralText("the preview rings are arranged anew", "the preview rings are arranged anew # times");
    }
}
