class Fuel {
    val all = "SELECT tank_id, litres FROM tanks" // sql
    fun one(name: String) = "SELECT litres FROM tanks WHERE name = '$name'" // spliced
    val long = """
        SELECT t.litres
        FROM tanks t""" // sql-above 1
    fun say() = println("Update: the tank is full, select another")
}
