package leanladder.estate.read;

import java.util.List;
import java.util.Optional;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.Unit;

/** Reads single parts of the directory as an edit brings them, by the rules of the whole file (estate-format.md). */
public final class Parts {
    private Parts() {}

    /** A unit; what does not fit is reported. Whether its parent exists is not looked at. */
    public static Optional<Unit> unit(Place place) {
        return DirectoryReader.readUnit(place);
    }

    /** An account; what does not fit is reported. Whether its unit and rings exist is not looked at. */
    public static Optional<Account> account(Place place) {
        return DirectoryReader.readAccount(place);
    }

    /** A group with its members; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Group> group(Place place) {
        return DirectoryReader.readGroup(place)
                .map(g -> new Group(
                        g.id(), g.name(), g.access(), g.owners(), DirectoryReader.members(place.items("members"))));
    }

    /** Members as a list names them, {@code account:ID} or {@code group:ID}; what does not fit is reported and left out. */
    public static Members members(List<Place> items) {
        return DirectoryReader.members(items);
    }
}
