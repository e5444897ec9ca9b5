Imports System.Data

Public Class PilotStore
    Private Const AllPilots As String = "SELECT pilot_id, name FROM pilots" ' sql
    Private Const Table = "pilots"

    Public Function Find(ByVal name As String) As DataTable
        Dim sql As String = "SELECT p.name, p.grade " & _
            "FROM pilots p " & _
            "WHERE p.name = @name" ' sql-above 2
        Return Fill(sql)
    End Function

    Public Sub Retire(id As Integer)
        Dim command As New SqlCommand("UPDATE pilots SET retired = 1 WHERE pilot_id = @id", Connection) ' sql
        command.ExecuteNonQuery()
        command.CommandText = "DELETE FROM pilot_watches WHERE pilot_id = " & id ' sql
        MsgBox("Select a pilot from the list")
        MsgBox("Update of """ & Table & """ is done: set the next one")
    End Sub

    Public Function Watches(day As Date) As String
        Dim text As String
        text = "SELECT w.pilot_id, w.begins_at" ' sql
        text &= " FROM pilot_watches w"
        text = text & " WHERE w.day = ?"
        Return text
    End Function

    Public Function Interpolated(grade As Integer) As String
        Return $"SELECT name FROM pilots WHERE grade = {grade}" ' sql
    End Function

    ' SELECT name FROM pilots WHERE old_grade = 1
    Public Function Lines() As String
        Return "INSERT INTO pilots (name, grade)
                VALUES (@name, @grade)" ' sql-above 1
    End Function
End Class
