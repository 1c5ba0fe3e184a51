package leanladder.server;

import io.javalin.http.Context;
import java.time.Instant;
import java.util.Optional;
import leanladder.change.Ripple;
import leanladder.document.Instants;
import leanladder.reach.Directory;
import leanladder.resolve.Question;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** The people whom a draft touches, by name: all of them, those of one effect, of one setting's move, or those blocked. */
final class RipplePeople {
    private RipplePeople() {}

    static void answer(Context ctx, Query query, Carried carried, Estates estates) {
        Ripple ripple = ripple(query, carried, estates);
        Wording wording = new Wording(ripple.after().estate(), estates.now());
        Optional<RoaringBitmap> part = part(query, ripple, wording);
        if (part.isEmpty() && query.one("format").isEmpty()) {
            Answers.json(
                    ctx,
                    new RippleTelling(ripple, estates.now()).json(carried.base().change(), PeoplePage.of(query)));
            return;
        }
        Directory directory = ripple.after().directory();
        PeoplePage.answer(
                ctx,
                query,
                directory,
                part.orElse(ripple.changed()),
                new PeoplePage.Extra("effect", a -> RippleTelling.word(ripple.effectOn(directory.number(a.id())))));
    }

    private static Ripple ripple(Query query, Carried carried, Estates estates) {
        Optional<Instant> at = query.one("at")
                .map(t -> Instants.instant(t)
                        .orElseThrow(() -> Problem.wrongInput("The parameter \"at\" must be an instant.")));
        Optional<String> workspace = query.one("workspace");
        workspace
                .filter(w -> carried.after().ground().estate().workspace(w).isEmpty())
                .ifPresent(w -> {
                    throw Problem.unknown("There is no workspace \"" + w + "\".");
                });
        if (at.isEmpty() && workspace.isEmpty()) return carried.ripple();
        return carried.ripple(new Question(at.orElse(estates.now()), workspace));
    }

    /** The accounts of one move of one setting, those still blocked, joining or leaving; empty when everybody is asked for. */
    private static Optional<RoaringBitmap> part(Query query, Ripple ripple, Wording wording) {
        Optional<String> setting = query.one("setting");
        String part = query.one("part").orElse(setting.isPresent() ? "moved" : "all");
        RoaringBitmap found = new RoaringBitmap();
        switch (part) {
            case "all" -> {
                return Optional.empty();
            }
            case "joining" -> found.or(ripple.joining());
            case "leaving" -> found.or(ripple.leaving());
            case "blocked" ->
                ripple.blocks().stream()
                        .filter(b -> setting.isEmpty() || b.setting().key().equals(setting.get()))
                        .forEach(b -> found.or(b.accounts()));
            case "moved" ->
                ripple.moves().stream()
                        .filter(m -> m.setting().key().equals(setting.orElse("")))
                        .filter(m -> query.one("from")
                                .filter(f -> !f.equals(wording.value(m.setting(), m.from())))
                                .isEmpty())
                        .filter(m -> query.one("to")
                                .filter(t -> !t.equals(wording.value(m.setting(), m.to())))
                                .isEmpty())
                        .forEach(m -> found.or(m.accounts()));
            default ->
                throw Problem.wrongInput("The parameter \"part\" must be all, moved, blocked, joining or leaving.");
        }
        return Optional.of(found);
    }
}
